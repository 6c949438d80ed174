"""axe-core finds nothing wrong, on any screen, in either theme."""

from __future__ import annotations

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import DESK, PHONE, OpenPage, violations
from tests.browser.test_story import start_run, type_readings
from tests.serving import Served


def every_screen(page: Page, address: str, **only: object) -> dict[str, list[object]]:
    """What is wrong on each screen that can be reached without changing anything; ``only``: rules that are looked at."""
    found: dict[str, list[object]] = {}
    for name, path, text in (
        ("bench", "/", "Calibration chain"),
        ("runs", "/runs", "Ended"),
        ("ended run", "/runs/5", "Applied by Ines"),
        ("profiles", "/profiles", "From revision"),
        ("start", "/setups/1/measure/e_steps", "How to measure"),
        ("measure", "/setups/1/measure/flow", "Hollow box"),
        ("patches", "/setups/1/measure/z_offset", "Nine patches"),
        ("ended flow", "/runs/15", "Print it again"),
        ("temperature", "/setups/3/measure/temperature", "Temperature tower"),
        ("retraction", "/setups/1/measure/retraction", "Retraction tower"),
        ("wet test", "/setups/2/measure/temperature", "It was wet"),
        ("ended tower", "/runs/17", "Applied by Ines"),
        ("layers", "/runs/15/layers", "What will be printed"),
        ("file check", "/setups/1/file-check", "Drop it anywhere"),
        ("filaments", "/filaments", "Add a filament"),
        ("machines", "/machines", "Measuring tools"),
        ("card", "/setups/1/card", "Revision"),
        ("pre-flight", "/setups/1/pre-flight", "Before the print"),
        ("run sheet", "/setups/1/run-sheet/e_steps", "E-steps on paper"),
        ("lost", "/nowhere", "There is nothing"),
    ):
        page.goto(address + path)
        expect(page.get_by_text(text).first).to_be_visible()
        found[name] = violations(page, **only)
    return found


@pytest.mark.parametrize("viewport", [DESK, PHONE], ids=["desk", "phone"])
def test_no_screen_has_a_violation(demo: Served, open_page: OpenPage, viewport: dict[str, int]) -> None:
    """Contrast, names, roles, order."""
    page = open_page(demo.address, viewport=viewport)
    assert {name: rows for name, rows in every_screen(page, demo.address).items() if rows} == {}


def test_every_screen_can_be_read_in_the_dark(demo: Served, open_page: OpenPage) -> None:
    """The theme changes colours and nothing else, so contrast is what is looked at again."""
    page = open_page(demo.address, theme="dark")
    contrast = every_screen(page, demo.address, runOnly=["color-contrast"])
    assert {name: rows for name, rows in contrast.items() if rows} == {}


@pytest.mark.parametrize("theme", ["light", "dark"])
def test_a_run_and_its_dialogs_have_no_violation(demo: Served, open_page: OpenPage, theme: str) -> None:
    """With nothing read, with a verdict, and with each dialog open."""
    page = open_page(demo.address, theme=theme)
    found = {}
    page.get_by_role("button", name="Who?").click()
    found["who"] = violations(page)
    page.keyboard.press("Escape")
    page.keyboard.press("/")
    expect(page.get_by_label("Find a setup")).to_be_focused()
    found["picker"] = violations(page)
    page.reload()
    expect(page.get_by_role("heading", name="Calibration chain")).to_be_visible()
    page.keyboard.press("c")
    expect(page.get_by_label("Find what was done")).to_be_focused()
    found["change"] = violations(page)
    page.keyboard.type("firmware")
    page.keyboard.press("Enter")
    expect(page.get_by_role("dialog")).to_contain_text("Re-enter")
    found["consequences"] = violations(page)
    for key, shown in (("t", "Type in: Temperature"), ("s", "Safe to tune: Heron")):
        page.reload()
        expect(page.get_by_role("heading", name="Calibration chain")).to_be_visible()
        page.keyboard.press(key)
        expect(page.get_by_role("dialog")).to_contain_text(shown)
        found[shown] = violations(page)
    page.reload()
    start_run(page, "410.45")
    found["run"] = violations(page)
    type_readings(page, "98.4", "98.1", "98.6")
    expect(page.get_by_test_id("verdict")).to_be_visible()
    found["verdict"] = violations(page)
    for key in "akxil?":
        page.keyboard.press(key)
        expect(page.get_by_role("dialog")).to_be_visible()
        found[f"dialog {key}"] = violations(page)
        page.keyboard.press("Escape")
        expect(page.get_by_role("dialog")).to_have_count(0)
    page.keyboard.press("l")
    page.keyboard.press("Enter")
    expect(page.get_by_text("Calibration chain")).to_be_visible()
    assert {name: rows for name, rows in found.items() if rows} == {}


@pytest.mark.parametrize("theme", ["light", "dark"])
def test_the_first_form_and_the_sign_in_have_no_violation(
    own: Served, shed: str, open_page: OpenPage, theme: str
) -> None:
    """The two screens before everything else."""
    page = open_page(own.address, theme=theme)
    expect(page.get_by_text("Your first setup")).to_be_visible()
    assert violations(page) == []
    page = open_page(shed, theme=theme, viewport=PHONE)
    expect(page.get_by_role("heading", name="Sign in")).to_be_visible()
    assert violations(page) == []
