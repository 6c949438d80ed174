"""Towers by real keys: wet test, tower, ratings, verdict, photo, phone."""

from __future__ import annotations

import io

from PIL import Image
from playwright.sync_api import FilePayload, Page, expect

from tests.browser.conftest import PHONE, OpenPage, signed_in, violations
from tests.serving import Served


def begin(open_page: OpenPage, address: str) -> Page:
    """A page on which Ines works."""
    page = open_page(address)
    # The screen is there: a click while one page takes the place of another is lost, whoever makes it.
    expect(page.get_by_role("heading", level=1).first).to_be_visible()
    signed_in(page)
    return page


def test_a_tower_is_rated_by_keys_alone(demo: Served, open_page: OpenPage) -> None:
    """From the bench to the verdict without a mouse: start, figures, Enter for the same, arrows, a band out, keep."""
    page = begin(open_page, f"{demo.address}/setups/1/measure/temperature")
    page.get_by_role("heading", name="Temperature tower").wait_for()
    expect(page.get_by_text("From the spool's label")).to_be_visible()
    page.get_by_role("button", name="Start").focus()
    page.keyboard.press("Enter")
    expect(page.get_by_text("Rate the ends first")).to_be_visible()
    focused = page.locator("td:focus")
    expect(focused).to_have_attribute("aria-label", "205, Strings: not rated")
    page.keyboard.press("4")
    expect(page.locator('td[aria-label="205, Strings: 4, none"]')).to_be_visible()
    expect(focused).to_have_attribute("aria-label", "215, Strings: not rated")
    page.keyboard.press("ArrowUp")
    page.keyboard.press("Enter")
    expect(page.locator('td[aria-label="210, Strings: 4, none"]')).to_be_visible()
    page.keyboard.press("ArrowUp")
    page.keyboard.press("Backspace")
    assert violations(page) == []
    block = page.get_by_role("region", name="What is on this screen")
    expect(block).to_contain_text("ratings left")
    for figure in "3210":
        page.keyboard.press(figure)
        page.wait_for_timeout(100)
    page.keyboard.press("t")
    expect(page.get_by_role("radio", name="Strength")).to_be_checked()
    for _ in range(40):
        if "Everything" in block.inner_text():
            break
        page.keyboard.press("3")
        page.wait_for_timeout(120)
    expect(page.get_by_test_id("verdict")).to_be_visible()
    expect(block).to_contain_text("Everything that counts is rated.")
    page.keyboard.press("s")
    swap = page.get_by_role("dialog")
    expect(swap.get_by_label("This band")).to_be_focused()
    swap.get_by_label("and this one").select_option(swap.get_by_label("This band").input_value())
    page.keyboard.press("Enter")
    expect(swap).to_contain_text("Choose two of the")
    page.keyboard.press("Escape")
    page.keyboard.press("x")
    expect(page.get_by_role("dialog")).to_contain_text("out of the choice?")
    assert violations(page) == []
    page.keyboard.press("Enter")
    expect(page.get_by_role("table").get_by_text("band failed")).to_be_visible()
    page.keyboard.press("k")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Kept by")).to_be_visible()


def test_strings_are_counted_with_figures_and_the_tower_goes_along_on_paper(demo: Served, open_page: OpenPage) -> None:
    """Figures wait for Enter; the sheet has an empty box for every band and scale, with the words of each number."""
    page = begin(open_page, f"{demo.address}/setups/3/measure/retraction")
    page.get_by_label("Strings", exact=True).select_option("counted")
    page.get_by_role("button", name="Start").click()
    cell = page.locator("td:focus")
    band = (cell.get_attribute("aria-label") or "").split(",")[0]
    page.keyboard.type("11")
    expect(cell).to_contain_text("11")
    page.keyboard.press("Enter")
    expect(page.locator(f'td[aria-label^="{band}, Strings: 11, of"]')).to_be_visible()
    assert violations(page) == []
    page.get_by_role("link", name="On paper").click()
    sheet = page.get_by_role("article", name="Run sheet")
    expect(sheet.get_by_role("columnheader", name="Gap after travel")).to_be_visible()
    rows = sheet.get_by_role("row")
    assert rows.count() == 9, "eight bands and their head"
    assert rows.last.get_by_role("cell").all_inner_texts() == ["", "", ""]
    expect(sheet).to_contain_text("0 missing, 1 thin, 2 dent, 3 dimple, 4 full")
    assert violations(page) == []


def test_a_rating_made_without_the_network_is_kept_and_sent_later(demo: Served, open_page: OpenPage) -> None:
    """The figure stands at once; it says that it was not sent; when the line is back it is there after a reload."""
    page = begin(open_page, f"{demo.address}/setups/1/measure/retraction")
    page.get_by_role("heading", name="Retraction tower").wait_for()
    page.get_by_role("button", name="Start").click()
    expect(page.get_by_text("Rate the ends first")).to_be_visible()
    page.context.set_offline(True)
    page.keyboard.press("1")
    expect(page.get_by_text("1 not sent yet")).to_be_visible()
    expect(page.get_by_role("table").get_by_text("many")).to_be_visible()
    page.context.set_offline(False)
    expect(page.get_by_text("1 not sent yet")).to_be_hidden(timeout=15000)
    page.reload()
    expect(page.get_by_role("table").get_by_text("many")).to_be_visible()


def test_thirsty_filament_opens_with_the_wet_test_and_a_photo_goes_with_its_band(
    demo: Served, open_page: OpenPage
) -> None:
    """PETG that popped: dry first; printed anyway, a photo goes to a band, again after a gap in the network."""
    page = begin(open_page, f"{demo.address}/setups/2/measure/temperature?coldest=225&hottest=240")
    expect(page.get_by_role("heading", name="It was wet: dry it first")).to_be_visible()
    page.get_by_role("button", name="Print it anyway").click()
    page.get_by_role("heading", name="Temperature tower").wait_for()
    expect(page.get_by_label("Coldest band")).to_have_value("225")
    page.get_by_role("button", name="Start").click()
    expect(page.get_by_text("Rate the ends first")).to_be_visible()
    page.keyboard.press("p")
    picture = io.BytesIO()
    Image.new("RGB", (800, 600), (90, 120, 60)).save(picture, "PNG")
    choose = page.locator('input[type="file"]')
    page.context.set_offline(True)
    choose.set_input_files(FilePayload(name="band.png", mimeType="image/png", buffer=picture.getvalue()))
    again = page.get_by_role("button", name="Send band.png again")
    expect(again).to_be_visible()
    page.context.set_offline(False)
    again.click()
    expect(page.get_by_role("dialog").get_by_role("img")).to_have_count(1)
    choose.set_input_files(FilePayload(name="tower.gcode.png", mimeType="image/png", buffer=b"G1 X1\n" * 50))
    expect(page.get_by_role("alert")).to_contain_text("not a photo")
    page.keyboard.press("Escape")
    expect(page.get_by_role("table").get_by_text("1 photo")).to_be_visible()


def test_on_the_phone_one_band_is_rated_at_a_time_with_the_thumb(demo: Served, open_page: OpenPage) -> None:
    """The scale with its pictures is what is pressed; from band to band by the arrows."""
    page = begin(open_page, f"{demo.address}/setups/1/measure/temperature")
    page.get_by_role("button", name="Start").click()
    page.get_by_text("Rate the ends first").wait_for()
    phone = open_page(page.url, viewport=PHONE, touch=True)
    phone.get_by_role("button", name="3 hairs").tap()
    phone.get_by_role("button", name="Ines").tap()
    expect(phone.get_by_role("button", name="Strings 3")).to_be_visible()
    phone.get_by_role("button", name="Band below").tap()
    expect(phone.get_by_text("2 of 5 from the top")).to_be_visible()
    assert violations(phone) == []
    assert phone.evaluate("document.documentElement.scrollWidth") <= 390
    phone.close()


def test_foam_is_measured_band_by_band_and_a_band_is_taken_out(demo: Served, open_page: OpenPage) -> None:
    """Widths by keyboard; X names what heat has spoiled, and all hotter bands go with it."""
    page = begin(open_page, f"{demo.address}/setups/7/measure/temperature")
    page.get_by_role("heading", name="Foaming tower").wait_for()
    page.get_by_role("button", name="Start").click()
    expect(page.get_by_role("heading", name="Reading 1")).to_be_visible()
    for text in ("0.48", "0.49", "0.47", "0.52"):
        page.keyboard.type(text)
        page.keyboard.press("Enter")
        page.wait_for_timeout(250)
    expect(page.get_by_text("0.480", exact=True)).to_be_visible()
    assert violations(page) == []
    asked = page.get_by_role("heading", name="Reading 5").inner_text()
    page.get_by_role("button", name="Skip this place").click()
    expect(page.get_by_role("heading", name="Reading 5")).not_to_have_text(asked)
    page.keyboard.press("x")
    expect(page.get_by_role("dialog")).to_contain_text("dark drops")
    page.keyboard.press("Enter")
    expect(page.get_by_role("table").get_by_text("dark drops").first).to_be_visible()
