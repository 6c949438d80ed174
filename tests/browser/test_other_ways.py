"""The other ways to measure, the other ways a machine keeps its setting, and the workshop around a run."""

from __future__ import annotations

import re

from playwright.sync_api import Page, Route, expect

from tests.browser.conftest import OpenPage, on_bench, open_row
from tests.browser.test_nothing_lost import leave, put_on_bench
from tests.browser.test_story import type_readings
from tests.serving import Served


def be(page: Page, name: str) -> None:
    """Say who is at the bench."""
    page.get_by_role("button", name="Who?").click()
    page.get_by_role("button", name=name, exact=True).click()
    expect(page.get_by_role("dialog")).to_have_count(0)


def begin_run(page: Page, method: str, current: str, **typed: str) -> None:
    """Start a run by another way from the setup on the bench: radio, machine's value, and what the way needs."""
    open_row(page)
    page.get_by_role("link", name=re.compile("Start e-steps run|Do it anyway|Measure again")).click()
    page.get_by_role("radio", name=re.compile(f"^{method}")).click()
    page.get_by_label(re.compile("^The machine's .* now$")).fill(current)
    for label, text in typed.items():
        page.get_by_label(label.replace("_", " "), exact=True).fill(text)
    page.get_by_role("button", name="Start").click()
    expect(page.get_by_text("Reading 1:")).to_be_visible()


def test_a_marked_filament_on_a_machine_that_keeps_its_value_in_a_file(demo: Served, open_page: OpenPage) -> None:
    """The remainder is read, the value is mm per turn and goes down when too much is fed, and where to write it is said."""
    page = open_page(demo.address)
    be(page, "Ines")
    put_on_bench(page, "tarn")
    on_bench(page, "Tarn PETG smoke")
    begin_run(page, "Marked", "4.521", **{"Mark,_from_the_entry_of_the_extruder": "120"})
    expect(page.get_by_role("heading", name="Reading 1:")).to_contain_text("mark")
    page.keyboard.type("-3")
    page.keyboard.press("Enter")
    expect(page.get_by_text("The mark cannot be inside")).to_be_visible()
    page.locator("[data-entry]").fill("")
    type_readings(page, "17.6", "17.5", "17.8")
    expect(page.get_by_test_id("proposal")).to_contain_text("4.628")
    page.keyboard.press("a")
    expect(page.get_by_role("button", name="Apply 4.628").last).to_be_focused()
    page.keyboard.press("Enter")
    machine = page.get_by_role("region", name="At the machine").or_(
        page.locator("section:has(h2:text('At the machine'))")
    )
    expect(machine.first).to_contain_text("file")
    expect(machine.first).to_contain_text("4.628")
    page.keyboard.type("4,628")
    page.keyboard.press("Enter")
    expect(page.get_by_test_id("read-back")).to_have_attribute("data-state", "verified")


def test_weighing_with_a_scale_that_is_added_on_the_way(demo: Served, open_page: OpenPage) -> None:
    """A new tool is the one in use at once; grams are read, and the reference piece gives grams per mm."""
    page = open_page(demo.address)
    be(page, "Wim")
    put_on_bench(page, "heron fallow")
    on_bench(page, "Fallow PLA oat")
    open_row(page)
    page.get_by_role("link", name=re.compile("Start e-steps run|Measure again|Do it anyway")).click()
    page.get_by_role("radio", name=re.compile("^Weighed")).click()
    page.get_by_role("button", name="Add a measuring tool").click()
    page.get_by_label("What you call it", exact=True).fill("Jeweller's scale")
    page.get_by_label("Its step").fill("0.001")
    page.get_by_role("button", name="Add Enter", exact=True).click()
    expect(page.get_by_label("Measuring tool", exact=True)).to_contain_text("Jeweller's scale")
    chosen = page.get_by_label("Measuring tool", exact=True).evaluate("field => field.selectedOptions[0].textContent")
    assert chosen.startswith("Jeweller's scale")
    page.get_by_label("The machine's steps per mm now").fill("410.45")
    page.get_by_label("Length to feed").fill("500")
    page.get_by_role("button", name="Start").click()
    expect(page.get_by_text("The mass of the reference piece is still empty")).to_be_visible()
    expect(page.get_by_label("Mass of the reference piece")).to_be_focused()
    page.get_by_label("Mass of the reference piece").fill("2.982")
    page.get_by_label("Length of the reference piece").fill("1000")
    page.get_by_role("button", name="Start").click()
    expect(page.get_by_text("Reading 1:")).to_be_visible()
    type_readings(page, "1.450", "1.452", "1.449")
    expect(page.get_by_test_id("verdict")).to_have_attribute("data-verdict", re.compile("apply|repeat"))
    expect(page.get_by_role("region", name="Readings")).to_contain_text("1.452")
    page.keyboard.press("i")
    expect(page.get_by_role("dialog")).to_be_visible()
    expect(page.get_by_role("form", name="Zero check")).to_have_count(0)
    page.keyboard.press("Escape")
    leave(page)


def test_keep_is_a_decision_that_writes_no_other_number(demo: Served, open_page: OpenPage) -> None:
    """Within 1 %: leave it alone, and the step is fresh."""
    page = open_page(demo.address)
    be(page, "Ines")
    put_on_bench(page, "tarn")
    on_bench(page, "Tarn PETG smoke")
    begin_run(page, "Open air", "4.628")
    type_readings(page, "100.1", "100", "99.9")
    verdict = page.get_by_test_id("verdict")
    expect(verdict).to_contain_text("Leave it alone")
    expect(verdict).to_contain_text("good enough, go on")
    page.keyboard.press("k")
    expect(page.get_by_role("button", name="Keep 4.628").last).to_be_focused()
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name=re.compile("^Kept by Ines"))).to_be_visible()
    expect(page.get_by_text("At the machine")).to_have_count(0)


def test_a_note_of_the_history_is_edited_in_place_and_another_edit_is_not_written_over(
    demo: Served, open_page: OpenPage
) -> None:
    """Two people at one note: the second is shown the first one's words and loses none of their own."""
    page = open_page(f"{demo.address}/profiles")
    be(page, "Ines")
    other = open_page(f"{demo.address}/profiles", beside=page)
    for one in (page, other):
        expect(one.get_by_role("heading", name="From revision")).to_be_visible()
        one.keyboard.press("n")
        expect(one.get_by_label("Note")).to_be_focused()
    other.get_by_label("Note").fill("the left elbow was loose")
    other.get_by_role("button", name="Save").click()
    expect(other.get_by_role("button", name="Edit note")).to_be_visible()
    page.bring_to_front()
    page.get_by_label("Note").fill("both elbows were loose")
    page.get_by_role("button", name="Save").click()
    expect(page.get_by_role("alert")).to_contain_text("the left elbow was loose")
    expect(page.get_by_label("Note")).to_have_value("both elbows were loose")
    page.get_by_role("button", name="Save").click()
    expect(page.get_by_text("both elbows were loose").first).to_be_visible()


def test_a_part_is_changed_by_its_key_and_the_setup_that_results_is_shown_first(
    demo: Served, open_page: OpenPage
) -> None:
    """4 and a few letters; the old setup is found again by /, and a setup is taken out of use."""
    page = open_page(demo.address)
    be(page, "Ines")
    put_on_bench(page, "wren")
    on_bench(page, "Wren")
    page.keyboard.press("4")
    expect(page.get_by_label("Find: another filament")).to_be_focused()
    page.keyboard.type("thistle")
    page.keyboard.press("Enter")
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("Wren, hotend, liner not known, 0.4 brass, Thistledown foaming PLA white")
    expect(dialog).to_contain_text("A new setup. It starts with what belongs to its parts: E-steps.")
    expect(page.get_by_role("button", name="Put it on the bench")).to_be_focused()
    page.keyboard.press("Enter")
    expect(dialog).to_have_count(0)
    on_bench(page, "Thistledown foaming PLA white")
    page.get_by_role("button", name="Take this setup out of use").click()
    page.get_by_role("dialog").get_by_role("button", name="Take out of use").click()
    on_bench(page, "Fallow PLA oat")
    page.keyboard.press("/")
    expect(page.get_by_label("Find a setup")).to_be_focused()
    page.keyboard.type("wren thistle")
    expect(page.get_by_text("Nothing holds all of these words.")).to_be_visible()


def test_every_tab_is_reached_by_keys_and_an_open_run_goes_on_where_it_was(demo: Served, open_page: OpenPage) -> None:
    """M and a number; Tab and Enter in the list; Esc goes back."""
    page = open_page(demo.address)
    expect(page.get_by_role("heading", name="Calibration chain")).to_be_visible()
    page.keyboard.press("m")
    page.keyboard.press("2")
    expect(page.get_by_role("heading", name="Open", exact=True)).to_be_visible()
    open_run = page.get_by_role("link", name=re.compile("Open, 1 of 3 readings"))
    open_run.focus()
    page.keyboard.press("Enter")
    expect(page.get_by_text("Reading 2:")).to_be_visible()
    expect(page.get_by_role("region", name="Readings")).to_contain_text("96.20")
    page.keyboard.press("Escape")
    expect(page.get_by_text("Calibration chain")).to_be_visible()
    page.keyboard.press("m")
    page.keyboard.press("3")
    expect(page.get_by_role("heading", name="From revision")).to_be_visible()


def test_a_change_says_what_it_makes_stale_before_it_is_saved(demo: Served, open_page: OpenPage) -> None:
    """By keyboard: C, a few letters, Enter, a note, Enter; the bench names the cause until the entry is taken back."""
    page = open_page(demo.address)
    be(page, "Wim")
    put_on_bench(page, "asa")
    on_bench(page, "Cinder ASA black")
    page.keyboard.press("c")
    expect(page.get_by_label("Find what was done")).to_be_focused()
    page.keyboard.type("toolhead")
    page.keyboard.press("Enter")
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("Stale: Safe to tune, Heat check, E-steps")
    expect(dialog).to_contain_text(re.compile("E-steps: [A-Z][a-z]+ Stale"))
    expect(dialog).to_contain_text("Tarn PETG smoke")
    expect(dialog).not_to_contain_text("Heron")
    expect(page.get_by_label("Note, if you like")).to_be_focused()
    page.keyboard.type("spare head from the shelf")
    page.keyboard.press("Enter")
    expect(page.get_by_text("spare head from the shelf")).to_be_visible()
    open_row(page)
    step = page.get_by_role("region", name="E-steps")
    expect(step).to_contain_text("Stale: the toolhead was replaced today")
    page.get_by_role("button", name="Take back: Whole toolhead replaced").click()
    expect(page.locator("s", has_text="Whole toolhead replaced")).to_be_visible()
    expect(page.get_by_role("main")).not_to_contain_text("the toolhead was replaced")
    page.keyboard.press("c")
    page.keyboard.type("other size")
    page.keyboard.press("Enter")
    expect(dialog).to_contain_text("Stale: Z-offset")
    page.keyboard.press("Enter")
    expect(page.get_by_label("Find: another nozzle"), "it is asked which one is in now").to_be_focused()
    page.keyboard.type("ruby")
    expect(dialog.get_by_role("link", name="Add a nozzle to its hotend")).to_be_visible()
    dialog.get_by_role("button", name="Close").click()
    page.get_by_role("button", name="Take back: Nozzle changed, other size").click()


def test_nothing_that_heats_is_offered_on_a_machine_nobody_vouches_for(demo: Served, open_page: OpenPage) -> None:
    """The card is the next step; *the maker says so* wants its page, and then the chain opens."""
    page = open_page(demo.address)
    be(page, "Ines")
    put_on_bench(page, "wren")
    expect(page.get_by_text("where the liner of this hotend ends")).to_be_visible()
    expect(page.get_by_role("link", name=re.compile("Start e-steps run|Measure again"))).to_have_count(0)
    page.get_by_role("button", name="Go through the safety card").click()
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("Safe to tune: Wren")
    page.keyboard.press("Enter")
    expect(dialog.get_by_role("alert")).to_contain_text("the hold stays")
    dialog.get_by_label("does it stop heating").select_option("maker_says")
    dialog.get_by_label("Where its liner ends").select_option("all_metal")
    dialog.get_by_role("button", name="I went through it").click()
    expect(dialog).to_contain_text("Say where the maker says so")
    dialog.get_by_label("Where that is written").fill("Maker's booklet, page 12")
    page.keyboard.press("Enter")
    expect(page.get_by_role("link", name=re.compile("Start e-steps run|Measure again"))).to_be_visible()


def test_a_machine_and_a_label_are_entered_and_a_slip_is_said_at_its_field(demo: Served, open_page: OpenPage) -> None:
    """M 5 and M 4; what cannot be right is said in words, and nothing typed is lost."""
    page = open_page(f"{demo.address}/machines")
    be(page, "Ines")
    page.keyboard.press("+")
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("What you call it").fill("Dipper")
    dialog.get_by_label("Maker's limit of the bed").fill("1100")
    page.keyboard.press("Enter")
    expect(dialog).to_contain_text("beds are stated for 30 to 200 °C")
    dialog.get_by_label("Maker's limit of the bed").fill("230 F")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Dipper")).to_be_visible()
    expect(page.get_by_text("bed never above 110 °C")).to_be_visible()
    heads = page.get_by_role("region", name="Nozzles in Wide head of Kestrel")
    heads.get_by_role("button", name=re.compile("^Add a nozzle")).click()
    dialog.get_by_label("Bore").fill("4")
    page.keyboard.press("Enter")
    expect(dialog).to_contain_text("nozzles have 0.1 to 2 mm")
    dialog.get_by_label("Bore").fill("1,8")
    page.keyboard.press("Enter")
    expect(dialog).to_contain_text("1.8 mm is hardly ever right")
    page.keyboard.press("Tab")
    expect(dialog.get_by_role("button", name="It is right as typed")).to_be_focused()
    page.keyboard.press("Enter")
    expect(heads).to_contain_text("1.8 brass")
    page.keyboard.press("m")
    page.keyboard.press("4")
    expect(page.get_by_role("heading", name="Filaments")).to_be_visible()
    page.get_by_role("button", name="Change Fallow PLA oat").click()
    dialog.get_by_label("Nozzle range on the label").fill("220-195")
    dialog.get_by_role("button", name="Save").click()
    expect(dialog).to_contain_text("220 to 195 °C is upside down")
    dialog.get_by_label("Nozzle range on the label").fill("195-220; 210-235 from 80 mm/s")
    dialog.get_by_role("button", name="Save").click()
    expect(page.get_by_text("195–220 °C; 210–235 °C from 80 mm/s")).to_be_visible()


def test_a_field_that_is_still_being_fetched_is_stepped_to_and_hands_the_focus_on(
    demo: Served, open_page: OpenPage
) -> None:
    """Tab does not pass it by while its part of the page is on the way."""
    page = open_page(f"{demo.address}/filaments")
    be(page, "Ines")
    held: list[Route] = []
    page.route("**/assets/Finder-*.js", lambda route: held.append(route))
    page.reload()
    expect(page.get_by_role("heading", name="Filaments")).to_be_visible()
    page.keyboard.press("+")
    family = page.get_by_role("dialog").get_by_label("Family")
    expect(page.get_by_role("dialog").get_by_label("What you call it")).to_be_focused()
    page.keyboard.press("Tab")
    page.keyboard.press("Tab")
    expect(family).to_be_focused()
    expect(family).not_to_have_role("combobox")
    expect(family).to_have_value("PLA")
    for route in held:
        route.continue_()
    expect(family).to_have_role("combobox")
    expect(family).to_be_focused()


def test_a_family_among_many_is_found_by_part_of_its_name(demo: Served, open_page: OpenPage) -> None:
    """Passed through it lies over nothing; it is typed and walked through, or clicked; Enter takes, then saves."""
    page = open_page(f"{demo.address}/filaments")
    be(page, "Ines")
    page.keyboard.press("+")
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_label("What you call it")).to_be_focused()
    page.keyboard.type("Sedge bendy")
    page.keyboard.press("Tab")
    expect(dialog.get_by_label("Maker", exact=True)).to_be_focused()
    page.keyboard.press("Tab")
    find = dialog.get_by_role("combobox", name="Family")
    expect(find).to_be_focused()
    expect(page.get_by_role("listbox")).to_have_count(0)
    find.click()
    page.get_by_role("option", name="PETG").click()
    expect(find).to_have_value("PETG")
    find.press("ControlOrMeta+a")
    page.keyboard.type("zinc")
    expect(page.get_by_text("Nothing is called that.")).to_be_visible()
    find.fill("flex")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Enter")
    expect(find).to_have_value("TPU, flexible")
    page.keyboard.press("Enter")
    expect(dialog).to_have_count(0)
    expect(page.locator("li", has_text="Sedge bendy")).to_contain_text("TPU, flexible")
