"""The story of the product, by keyboard alone: from the bench to a value that the machine is known to hold."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import DESK, PHONE, OpenPage, moved, open_row
from tests.serving import Served


def start_run(page: Page, current: str) -> None:
    """From the bench into a run: Enter, the machine's setting, Enter, and who it is where nobody said so yet."""
    open_row(page)
    page.keyboard.press("Enter")
    expect(page.get_by_label("The machine's steps per mm now")).to_be_focused()
    page.keyboard.type(current)
    page.keyboard.press("Enter")
    who = page.get_by_text("Who is at the bench?")
    expect(who.or_(page.get_by_text("Reading 1:"))).to_be_visible()
    if who.is_visible():
        page.keyboard.press("Enter")
    expect(page.get_by_text("Reading 1:")).to_be_visible()


def type_readings(page: Page, *readings: str) -> None:
    """Type each reading and wait until it is stored."""
    table = page.get_by_role("region", name="Readings")
    for index, text in enumerate(readings, start=1):
        page.keyboard.type(text)
        page.keyboard.press("Enter")
        expect(table.locator("tbody tr")).to_have_count(index)
    expect(table.locator("tbody tr").filter(has_not_text="not sent yet")).to_have_count(len(readings))


def parts(page: Page, name: str) -> list[dict[str, float]]:
    """Where the parts of the hero strip with this name lie, relative to the strip."""
    return page.evaluate(  # type: ignore[no-any-return]
        """name => {
            const strip = document.querySelector('[data-strip=hero]');
            const box = strip.getBoundingClientRect();
            return [...strip.querySelectorAll(name)].map((part) => {
                const at = part.getBoundingClientRect();
                return { left: at.left - box.left, right: at.right - box.left, width: box.width };
            });
        }""",
        name,
    )


def strip_shows_everything(page: Page) -> bool:
    """Three ticks, mean, whisker, band, move and plate, all inside the strip."""
    counts = {
        "[data-part=reading]": 3, "[data-part=mean]": 1, "[data-part=whisker]": 1, ".s-band": 1,
        "[data-part=move]": 1, "[data-part=plate]": 1,
    }  # fmt: skip
    for name, count in counts.items():
        found = parts(page, name)
        assert len(found) == count, (name, found)
        assert all(part["left"] >= -1 and part["right"] <= part["width"] + 1 for part in found), (name, found)
    return True


def test_three_lengths_become_a_value_the_machine_is_known_to_hold(demo: Served, open_page: OpenPage) -> None:
    """The whole path without a mouse: measure, strike, apply, read back, history, difference, back again."""
    page = open_page(demo.address)
    start_run(page, "410.45")
    verdict = page.get_by_test_id("verdict")
    type_readings(page, "98.4", "98,1")
    expect(verdict).to_be_hidden()
    expect(page.get_by_role("status").filter(has_text="taken")).to_have_text("taken 98.10, 1 to go; ")
    assert parts(page, "[data-part=reading]") == []
    page.keyboard.type("98.6")
    page.keyboard.press("Enter")
    expect(verdict).to_have_attribute("data-verdict", "apply")
    expect(page.get_by_test_id("proposal")).to_contain_text("417.27")
    assert strip_shows_everything(page)
    page.set_viewport_size({"width": PHONE["width"], "height": PHONE["height"]})
    page.wait_for_timeout(300)
    assert strip_shows_everything(page)
    page.set_viewport_size({"width": DESK["width"], "height": DESK["height"]})

    page.keyboard.type("91.3")
    page.keyboard.press("Enter")
    expect(verdict).to_have_attribute("data-verdict", "repeat")
    expect(verdict).to_contain_text("Something is wrong")
    page.keyboard.press("x")
    expect(page.get_by_label("Why")).to_be_focused()
    page.keyboard.type("spool snagged")
    page.keyboard.press("Enter")
    expect(page.locator("s", has_text="91.30")).to_be_visible()
    expect(page.get_by_text("spool snagged", exact=True)).to_be_visible()
    expect(verdict).to_have_attribute("data-verdict", "apply")

    page.keyboard.press("a")
    expect(page.get_by_role("button", name="Apply 417.27").last).to_be_focused()
    page.keyboard.press("Shift+Tab")
    page.keyboard.type("elbow joints were loose")
    page.keyboard.press("Tab")
    page.keyboard.press("Enter")
    expect(page.get_by_text("M92 E417.27")).to_be_visible()
    expect(page.get_by_text("below 50")).to_be_visible()
    state = page.get_by_test_id("read-back")
    expect(state).to_have_attribute("data-state", "unverified")
    expect(page.get_by_label("The machine says")).to_be_focused()
    page.keyboard.type("410.45")
    page.keyboard.press("Enter")
    expect(state).to_contain_text("the old value")
    page.keyboard.type("417.27")
    page.keyboard.press("Enter")
    expect(state).to_have_attribute("data-state", "verified")

    page.keyboard.press("h")
    expect(page.get_by_role("heading", name="From revision 14 to 15")).to_be_visible()
    for text in (re.compile(r"run \d+, open air"), "98.4, 98.1, 98.6", "Calliper 2", "e-steps/2", "+6.82"):
        expect(page.get_by_role("main")).to_contain_text(text)
    expect(page.get_by_text("elbow joints were loose").first).to_be_visible()
    page.keyboard.press("Shift+ArrowLeft")
    expect(page.get_by_role("heading", name="From revision 13 to 15")).to_be_visible()
    page.keyboard.press("b")
    expect(page.get_by_role("button", name="Go back to 13").last).to_be_focused()
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="From revision 15 to 16")).to_be_visible()
    expect(page.get_by_text("Back to 13")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.get_by_text("Not read back from the machine yet").first).to_be_visible()


def test_an_empty_workshop_opens_on_one_form_and_leads_to_a_first_value(own: Served, open_page: OpenPage) -> None:
    """Everything typed once, by Tab; what is wrong is said at its field and nothing typed is lost."""
    page = open_page(own.address)
    expect(page.get_by_label("What you call it")).to_be_focused()
    page.keyboard.type("Wren")
    page.get_by_label("Maker, kind and colour").focus()
    page.keyboard.type("Fallow PLA oat")
    page.get_by_label("Nozzle bore").fill("4")
    page.keyboard.press("Enter")
    expect(page.get_by_text("nozzles have 0.1 to 2 mm")).to_be_visible()
    expect(page.get_by_text("Your name is still empty")).to_be_visible()
    expect(page.get_by_label("Your name")).to_be_focused()
    expect(page.get_by_label("What you call it")).to_have_value("Wren")
    page.get_by_label("Nozzle bore").fill("0,4")
    page.get_by_label("How filament is fed").select_option("bowden")
    page.get_by_label("If its temperature sensor fails").select_option("tested")
    page.get_by_label("Where the hotend's liner ends").select_option("lined")
    page.get_by_label("Your name").focus()
    page.keyboard.type("Bo")
    page.keyboard.press("Enter")

    expect(page.get_by_text("Never measured").first).to_be_visible()
    start_run(page, "93")
    type_readings(page, "98.4", "98.1", "98.6")
    page.keyboard.press("a")
    expect(page.get_by_role("button", name="Apply 94.54").last).to_be_focused()
    page.keyboard.press("Enter")
    expect(page.get_by_text("M92 E94.54")).to_be_visible()
    page.keyboard.type("94.54")
    page.keyboard.press("Enter")
    expect(page.get_by_test_id("read-back")).to_have_attribute("data-state", "verified")
    page.keyboard.press("Escape")
    page.keyboard.press("m")
    page.keyboard.press("1")
    expect(page.get_by_role("main")).to_contain_text(re.compile(r"Fresh, measured today"))


def test_a_phone_in_the_shed_signs_in_by_name_and_measures_by_thumb(shed: str, open_page: OpenPage) -> None:
    """Plain HTTP: nothing that needs a secure context, and every control in reach of a thumb."""
    page = open_page(shed, viewport=PHONE, touch=True)
    page.get_by_label("Passphrase of this workshop").fill("guess")
    page.get_by_role("button", name="Sign in").tap()
    expect(page.get_by_text("That is not the passphrase")).to_be_visible()
    page.get_by_label("Passphrase of this workshop").fill("owl head lamp bracket")
    page.get_by_role("button", name="Sign in").tap()
    open_row(page)
    page.get_by_role("link", name=re.compile("Start e-steps run|Do it anyway|Measure again")).tap()
    page.get_by_label("The machine's steps per mm now").fill("410.45")
    page.get_by_role("button", name="Start").tap()
    page.get_by_role("button", name="Wim").tap()
    for count, reading in enumerate(("98.4", "98,1", "98.6"), start=1):
        for key in reading:
            page.get_by_role("button", name={".": "Point", ",": "Comma"}.get(key, key), exact=True).tap()
        page.get_by_role("button", name="Take", exact=True).tap()
        expect(page.get_by_role("region", name="Readings").locator("tbody tr")).to_have_count(count)
    expect(page.get_by_test_id("verdict")).to_have_attribute("data-verdict", "apply")
    assert strip_shows_everything(page)
    for name in ("Apply 417.27", "Keep 410.45", "Take", "Strike out", "Other tool", "Comma"):
        box = page.get_by_role("button", name=name, exact=True).first.bounding_box()
        assert box is not None
        assert box["height"] >= 43.5, name
        assert box["x"] >= 0, name
        assert box["x"] + box["width"] <= PHONE["width"], name
    assert page.evaluate("document.documentElement.scrollWidth") <= PHONE["width"]


@pytest.mark.parametrize("viewport", [{"width": 640, "height": 400}, {"width": 900, "height": 700}])
def test_nothing_is_wider_than_the_page_at_200_per_cent_and_on_a_tablet(
    demo: Served, open_page: OpenPage, viewport: dict[str, int]
) -> None:
    """1280 at 200 % is 640 wide."""
    page = open_page(demo.address, viewport=viewport)
    for path in (
        "/",
        "/runs",
        "/profiles",
        "/filaments",
        "/setups/1/card",
        "/setups/1/run-sheet/e_steps",
        "/machines",
        "/setups/1/measure/e_steps",
        "/runs/5",
    ):
        moved(page, path)
        expect(page.get_by_role("main")).not_to_be_empty()
        expect(page.get_by_text("Reading …")).to_have_count(0)
        assert page.evaluate("document.documentElement.scrollWidth") <= viewport["width"], path
