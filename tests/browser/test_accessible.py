"""axe-core finds nothing wrong, on any screen, in either theme."""

from __future__ import annotations

import re
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import DESK, PHONE, OpenPage, dialog_violations, moved, signed_in, violations
from tests.browser.test_story import start_run, type_readings
from tests.serving import Served

SCREENS = (
    ("/", "Calibration chain"),
    ("/runs", "Ended"),
    ("/runs/11", "Applied by Ines"),
    ("/runs/15", "Print it again"),
    ("/runs/15/layers", "What will be printed"),
    ("/runs/17", "Applied by Ines"),
    ("/runs/17/sheet", "temperature on paper"),
    ("/runs/28", "Applied by Ines"),
    ("/profiles", "From revision"),
    ("/setups", "Which one tonight?"),
    ("/setups/1/measure/e_steps", "How to measure"),
    ("/setups/1/measure/flow", "Hollow box"),
    ("/setups/1/measure/z_offset", "Nine patches"),
    ("/setups/2/measure/temperature", "It was wet"),
    ("/setups/3/measure/temperature", "Temperature tower"),
    ("/setups/1/file-check", "Drop it anywhere"),
    ("/setups/1/card", "Revision"),
    ("/setups/1/pre-flight", "Before the print"),
    ("/setups/1/prints", "Write an attempt down"),
    ("/attempts/9", "Plan a series"),
    ("/faults", "What do you see?"),
    ("/faults/3", "Looked at and tried"),
    ("/faults/3/help", "What is seen"),
    ("/stop", "Stop first"),
    ("/setups/1/guides?guide=removal", "It let go"),
    ("/setups/1/checks", "What wears"),
    ("/setups/9/course", "Over the year"),
    ("/setups/1/run-sheet/e_steps", "E-steps on paper"),
    ("/filaments", "Add a filament"),
    ("/machines", "Measuring tools"),
    ("/schools", "Where people disagree"),
    ("/nowhere", "There is nothing"),
)
"""Every kind of screen, and words by which it is known to be there."""

DIALOGS = (
    ("/", "Ines"),
    ("/profiles", "Go back to 1"),
    ("/profiles", "From a file"),
    ("/profiles", "Side by side with another setup"),
    ("/setups/1/checks", "Probe, the same spot again"),
    ("/setups/1/checks", "Mesh of the bed"),
    ("/setups/1/checks", "Heat, from a log"),
    ("/filaments", "Add a filament"),
    ("/filaments", "Add a spool"),
    ("/filaments", "Weigh, dry, test spool 11"),
    ("/setups/1/prints", "Write an attempt down"),
    ("/attempts/9", "Plan a series"),
    ("/attempts/9", "What is known of it"),
    ("/faults/3", "Close the case"),
    ("/machines", "Change Heron"),
    ("/machines", "Add a hotend"),
    ("/machines", "Add a nozzle"),
    ("/machines", "Add a surface"),
    ("/machines", "Add a tool"),
)
"""Dialogs of each kind that a button opens, and where it is; those that a key opens are looked at where keys are tried."""


def in_both(page: Page) -> list[Any]:
    """What is wrong with a page in the light, and with its contrast in the dark: nothing else changes."""
    found = violations(page)
    page.emulate_media(color_scheme="dark")
    found += violations(page, runOnly=["color-contrast"])
    page.emulate_media(color_scheme="light")
    return found


@pytest.mark.parametrize("half", [0, 1])
def test_no_screen_has_a_violation(demo: Served, open_page: OpenPage, half: int) -> None:
    """Contrast, names, roles, order, at the desk and on the phone, in the light and in the dark."""
    page = open_page(demo.address + SCREENS[half][0])
    found = {}
    for path, text in SCREENS[half::2]:
        page.set_viewport_size(DESK)  # type: ignore[arg-type]
        moved(page, path)
        expect(page.get_by_text(text).first).to_be_visible()
        expect(page.get_by_role("heading", level=1).first).to_be_visible()
        expect(page.get_by_text("Reading …")).to_have_count(0)
        found[path, "desk"] = in_both(page)
        page.set_viewport_size(PHONE)  # type: ignore[arg-type]
        found[path, "phone"] = in_both(page)
    assert {name: rows for name, rows in found.items() if rows} == {}


def test_no_dialog_of_a_button_has_a_violation(demo: Served, open_page: OpenPage) -> None:
    """Of each kind one."""
    page = open_page(demo.address)
    signed_in(page)
    found = {}
    for path, button in DIALOGS:
        # What lay open on the screen before goes with it.
        moved(page, "/nowhere")
        moved(page, path)
        page.get_by_role("button", name=re.compile(f"^{button}")).first.click()
        expect(page.get_by_role("dialog")).to_be_visible()
        found[path, button] = dialog_violations(page)
    assert {name: rows for name, rows in found.items() if rows} == {}


def test_a_run_and_its_dialogs_have_no_violation(demo: Served, open_page: OpenPage) -> None:
    """With nothing read, with a verdict, and with each dialog open."""
    page = open_page(demo.address)
    found = {}
    page.get_by_role("button", name="Who?").click()
    found["who"] = in_both(page)
    page.keyboard.press("Escape")
    page.keyboard.press("/")
    expect(page.get_by_label("Find a setup")).to_be_focused()
    found["picker"] = in_both(page)
    page.reload()
    expect(page.get_by_role("heading", name="Calibration chain")).to_be_visible()
    page.keyboard.press("c")
    expect(page.get_by_label("Find what was done")).to_be_focused()
    found["change"] = in_both(page)
    page.keyboard.type("firmware")
    page.keyboard.press("Enter")
    expect(page.get_by_role("dialog")).to_contain_text("Re-enter")
    found["consequences"] = in_both(page)
    for key, shown in (("t", "Type in: Temperature"), ("s", "Safe to tune: Heron")):
        page.reload()
        expect(page.get_by_role("heading", name="Calibration chain")).to_be_visible()
        page.keyboard.press(key)
        expect(page.get_by_role("dialog")).to_contain_text(shown)
        found[shown] = in_both(page)
    page.reload()
    start_run(page, "410.45")
    found["run"] = in_both(page)
    type_readings(page, "98.4", "98.1", "98.6")
    expect(page.get_by_test_id("verdict")).to_be_visible()
    found["verdict"] = in_both(page)
    for key in "akxil?":
        page.keyboard.press(key)
        expect(page.get_by_role("dialog")).to_be_visible()
        found[f"dialog {key}"] = in_both(page)
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
