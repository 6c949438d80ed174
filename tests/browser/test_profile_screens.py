"""Values typed, ticked and taken along; the card before a print; real prints that mark a revision."""

from __future__ import annotations

import json
import re
from pathlib import Path

from playwright.sync_api import Page, expect

from tests.browser.conftest import PHONE, OpenPage, on_bench
from tests.browser.test_nothing_lost import put_on_bench
from tests.browser.test_other_ways import be
from tests.serving import Served


def crib(page: Page, name: str) -> str:
    """A line of tonight's numbers, as it reads."""
    return page.get_by_role("region", name="Tonight's numbers").locator("li", has_text=name).first.inner_text()


def test_values_are_typed_by_keyboard_and_a_temperature_beyond_the_limit_is_not(
    demo: Served, open_page: OpenPage
) -> None:
    """Arrow to the row, T, the number, Enter; too hot is said at the field with the limit that holds."""
    page = open_page(demo.address)
    be(page, "Ines")
    put_on_bench(page, "thistledown")
    on_bench(page, "Thistledown")
    page.get_by_role("button", name=re.compile("Temperature")).click()
    page.locator("body").press("t")
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_label("Nozzle, first layer")).to_be_focused()
    dialog.get_by_label("Where from").select_option("family")
    expect(dialog.get_by_label("Nozzle, rest")).to_have_value("225")
    dialog.get_by_label("Where from").select_option("typed")
    expect(dialog.get_by_label("Nozzle, rest")).to_have_value("")
    dialog.get_by_label("Nozzle, rest").fill("250")
    page.keyboard.press("Enter")
    expect(dialog).to_contain_text("is too hot: never above 240 °C: the limit of its liner")
    dialog.get_by_label("Nozzle, rest").fill("428 F")
    page.keyboard.press("Enter")
    expect(dialog).to_have_count(0)
    expect(page.get_by_role("region", name="Tonight's numbers")).to_contain_text("220")
    row = page.get_by_role("region", name="Temperature")
    expect(row).to_contain_text("Assumed: typed")
    tick = page.get_by_label("Nozzle, rest is typed in")
    tick.check()
    page.reload()
    expect(page.get_by_label("Nozzle, rest is typed in")).to_be_checked()


def test_a_profile_goes_along_as_a_file_and_comes_in_with_a_look_first(
    demo: Served, open_page: OpenPage, tmp_path: Path
) -> None:
    """J saves it; on another setup every value is shown first, then copied, not measured; a cut file changes nothing."""
    page = open_page(f"{demo.address}/profiles")
    be(page, "Ines")
    expect(page.get_by_role("heading", name="From revision")).to_be_visible()
    with page.expect_download() as download:
        page.locator("body").press("j")
    assert download.value.suggested_filename == "heron-fallow-pla-oat.json"
    kept = tmp_path / "profile.json"
    download.value.save_as(kept)
    assert json.loads(kept.read_text())["format"] == "ubrex-profile"
    page.get_by_role("button", name="From a file").click()
    dialog = page.get_by_role("dialog")
    cut = tmp_path / "cut.json"
    cut.write_text(kept.read_text()[:200])
    dialog.get_by_label("A profile file of Ubrex").set_input_files(cut)
    expect(dialog.get_by_role("alert")).to_contain_text("Line ")
    page.keyboard.press("Escape")
    page.locator("body").press("/")
    expect(page.get_by_label("Find a setup")).to_be_focused()
    page.keyboard.type("asa")
    page.keyboard.press("Enter")
    on_bench(page, "Cinder ASA black")
    page.get_by_role("button", name="From a file").click()
    dialog.get_by_label("A profile file of Ubrex").set_input_files(kept)
    expect(dialog).to_contain_text("It was tuned on PLA, and this setup holds ASA")
    expect(dialog).to_contain_text("it holds only for the extruder it was measured on")
    dialog.get_by_role("button", name=re.compile("^Bring")).click()
    expect(dialog).to_contain_text("lie outside what is usual here. That is allowed: say why in the note.")
    dialog.get_by_label("Why, for what lies outside").fill("to begin with")
    dialog.get_by_role("button", name=re.compile("^Bring")).click()
    expect(dialog).to_have_count(0)
    expect(page.get_by_text("copied, not measured").first).to_be_visible()
    page.get_by_role("button", name="Side by side").click()
    expect(page.get_by_label("Find the other setup")).to_be_focused()
    page.keyboard.type("heron fallow")
    page.keyboard.press("Enter")
    expect(dialog.get_by_role("row", name=re.compile("Nozzle, rest"))).to_contain_text("205")
    expect(dialog.get_by_role("row", name=re.compile("E-steps"))).to_contain_text("kept in a different form")


def test_going_back_says_what_it_writes_or_that_there_is_nothing(demo: Served, open_page: OpenPage) -> None:
    """The last revision but one confirmed what it had; an earlier one had other e-steps, which another setup shares."""
    page = open_page(f"{demo.address}/profiles")
    be(page, "Ines")
    expect(page.get_by_role("heading", name="From revision 13 to 14")).to_be_visible()
    dialog = page.get_by_role("dialog")
    page.locator("body").press("b")
    expect(dialog).to_contain_text("there is nothing to go back to")
    expect(dialog.get_by_role("button")).to_have_text(["Cancel", re.compile("Close")])
    page.keyboard.press("Escape")
    for left in (12, 11, 10, 9):
        page.locator("body").press("Shift+ArrowLeft")
        expect(page.get_by_role("heading", name=f"From revision {left} to 14")).to_be_visible()
    page.locator("body").press("b")
    expect(dialog.get_by_role("listitem").filter(has_text="E-steps")).to_contain_text("404.27")
    expect(dialog.get_by_role("listitem").filter(has_text="E-steps")).to_contain_text("for 2 other setups too")
    page.keyboard.press("Escape")
    expect(page.get_by_role("heading", name="From revision 9 to 14")).to_be_visible()


def test_a_print_marks_the_revision_it_was_printed_with(demo: Served, open_page: OpenPage) -> None:
    """A on the bench: what, how long, how much, how it came out; what is wrong with a folded field is unfolded."""
    page = open_page(demo.address)
    be(page, "Wim")
    put_on_bench(page, "mallow")
    on_bench(page, "Mallow TPU")
    page.locator("body").press("a")
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Part", exact=True).fill("left hand")
    dialog.get_by_role("button", name="Good", exact=True).click()
    fold = dialog.get_by_text("Photo, fit, counts")
    fold.click()
    dialog.get_by_label("Took").fill("two")
    fold.click()
    dialog.get_by_label("Note").focus()
    page.keyboard.press("Enter")
    expect(dialog).to_contain_text("is not a number Ubrex can read")
    expect(dialog.get_by_label("Part", exact=True)).to_have_value("left hand")
    dialog.get_by_label("Took").fill("2,5")
    dialog.get_by_label("Used").fill("31")
    dialog.get_by_role("button", name="Not good").click()
    dialog.get_by_label("Used").press("Enter")
    expect(dialog).to_have_count(0)
    page.locator("body").press("h")
    expect(page.get_by_role("navigation", name="Revisions")).to_contain_text("1 bad")


def test_the_card_before_a_print_is_ticked_by_thumb_on_the_phone(demo: Served, open_page: OpenPage) -> None:
    """Eight ticks, none narrower than a thumb, and nothing runs off the side."""
    page = open_page(f"{demo.address}/setups/1/pre-flight", viewport=PHONE, touch=True)
    boxes = page.get_by_role("checkbox")
    expect(boxes).to_have_count(8)
    for index in range(8):
        boxes.nth(index).tap()
    expect(page.get_by_role("status").filter(has_text="All eight seen to")).to_be_visible()
    assert page.evaluate("document.documentElement.scrollWidth") <= PHONE["width"]
    labels = page.locator("label")
    assert all((labels.nth(index).bounding_box() or {"height": 0})["height"] >= 44 for index in range(8))


def test_limits_are_a_persons_own(demo: Served, open_page: OpenPage) -> None:
    """Set, kept, and the usual one stays in sight."""
    page = open_page(f"{demo.address}/machines")
    be(page, "Ines")
    page.get_by_text("When to look again").click()
    field = page.get_by_role("textbox", name="Grease")
    field.fill("0")
    page.get_by_role("button", name="Save Grease").click()
    expect(page.get_by_text("must be above 0")).to_be_visible()
    field.fill("250")
    page.get_by_role("button", name="Save Grease").click()
    expect(page.get_by_text("usual: 500")).to_be_visible()


def test_cards_and_sheet_fit_their_paper(demo: Served, open_page: OpenPage) -> None:
    """A6, A6 and A4, one page each: a card that runs over is cut with scissors."""
    page = open_page(demo.address)
    for path, text, width_pt in (
        ("card", "Heat check", 298),
        ("pre-flight", "Enough, checked", 298),
        ("run-sheet/e_steps", "E-steps on paper", 595),
    ):
        page.goto(f"{demo.address}/setups/1/{path}")
        expect(page.get_by_text(text).first).to_be_visible()
        pdf = page.pdf(prefer_css_page_size=True)
        assert len(re.findall(rb"/Type /Page\b", pdf)) == 1, path
        box = re.search(rb"/MediaBox \[0 0 ([\d.]+) ", pdf)
        assert box is not None
        assert abs(float(box[1]) - width_pt) < 2, path
