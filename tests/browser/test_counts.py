"""What an evening costs in keys and taps: counted on the real screens, printed, and held to what was promised."""

from __future__ import annotations

from dataclasses import dataclass

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import PHONE, OpenPage, open_row, signed_in
from tests.browser.test_printed_piece import to_flow
from tests.serving import Served


@dataclass
class Hands:
    """Somebody who types or taps, and how often."""

    page: Page
    count: int = 0

    def type(self, text: str) -> None:
        """One press for each letter."""
        self.page.keyboard.type(text)
        self.count += len(text)

    def press(self, *names: str) -> None:
        """Keys, one after the other."""
        for name in names:
            self.page.keyboard.press(name)
            self.count += 1

    def tap(self, name: str, role: str = "button", *, exact: bool = False) -> None:
        """One tap on what is called so."""
        self.page.get_by_role(role, name=name, exact=exact).first.tap()  # type: ignore[arg-type]
        self.count += 1

    def tap_digits(self, text: str) -> None:
        """A number on the pad of a phone, each digit a tap."""
        for digit in text:
            self.tap({".": "Point", ",": "Comma"}.get(digit, digit), exact=True)


def measure(hands: Hands, *readings: str) -> None:
    """Type readings; each when the one before is in."""
    for number, text in enumerate(readings, start=1):
        expect(hands.page.get_by_role("heading", name=f"Reading {number}:")).to_be_visible()
        hands.type(text)
        hands.press("Enter")
    expect(hands.page.get_by_test_id("verdict")).to_be_visible()


def test_an_empty_workshop_has_a_corrected_value_within_60_keys(
    own: Served, open_page: OpenPage, capsys: pytest.CaptureFixture[str]
) -> None:
    """Three names, the safety card, what the machine holds, three lengths, apply: no mouse, no book, no dead end."""
    page = open_page(own.address)
    hands = Hands(page)
    expect(page.get_by_label("Machine: what you call it")).to_be_focused()
    hands.type("Owl")
    hands.press("Tab")
    hands.type("PLA")
    hands.press("Tab")
    hands.type("Ines")
    hands.press("Enter")
    expect(page.get_by_role("button", name="Go through the safety card")).to_be_visible()
    hands.press("Enter")
    expect(page.get_by_label("If its temperature sensor fails")).to_be_focused()
    hands.press("y", "Tab", "t", "Enter")
    expect(page.get_by_role("link", name="Start e-steps run")).to_be_visible()
    hands.press("Enter")
    expect(page.get_by_label("The machine's steps per mm now")).to_be_focused()
    hands.type("93")
    hands.press("Enter")
    measure(hands, "21.9", "22.1", "22")
    hands.press("a", "Enter")
    expect(
        page.get_by_role("heading", name="At the machine").or_(page.get_by_text("Applied by Ines")).first
    ).to_be_visible()
    with capsys.disabled():
        print(f"\nempty workshop to a corrected value: {hands.count} keys")
    assert hands.count <= 60


def test_a_known_setup_takes_24_keys_with_the_read_back(
    demo: Served, open_page: OpenPage, capsys: pytest.CaptureFixture[str]
) -> None:
    """From the row on the bench to a value the machine is known to hold."""
    page = open_page(demo.address)
    signed_in(page)
    open_row(page)
    hands = Hands(page)
    hands.press("Enter")
    expect(page.get_by_label("The machine's steps per mm now")).to_be_focused()
    hands.type("=")
    hands.press("Enter")
    measure(hands, "98.4", "98.1", "98.6")
    hands.press("a", "Enter")
    expect(page.get_by_label("The machine says")).to_be_focused()
    hands.type("=")
    hands.press("Enter")
    expect(page.get_by_test_id("read-back")).to_have_attribute("data-state", "verified")
    with capsys.disabled():
        print(f"\nknown setup with its read-back: {hands.count} keys")
    assert hands.count <= 24


def test_four_walls_of_a_known_setup_take_15_keys(
    demo: Served, open_page: OpenPage, capsys: pytest.CaptureFixture[str]
) -> None:
    """From the start of the run to the decision; digits alone mean what stands behind the point."""
    page = open_page(demo.address)
    to_flow(page)
    hands = Hands(page)
    hands.press("Enter")
    who = page.get_by_text("Who is at the bench?")
    expect(who.or_(page.get_by_role("heading", name="Reading 1:"))).to_be_visible()
    if who.is_visible():
        page.keyboard.press("Enter")
    measure(hands, "46", "46", "47", "46")
    hands.press("k" if page.get_by_role("button", name="Keep").is_visible() else "a")
    with capsys.disabled():
        print(f"\nflow of four walls: {hands.count} keys")
    assert hands.count <= 15


def test_a_phone_takes_30_taps_from_the_bench_to_a_value(
    demo: Served, open_page: OpenPage, capsys: pytest.CaptureFixture[str]
) -> None:
    """By thumb, on the pad: a run is begun, read and applied."""
    page = open_page(demo.address, viewport=PHONE, touch=True)
    hands = Hands(page)
    expect(page.get_by_role("heading", name="Calibration chain")).to_be_visible()
    hands.tap("2 E-steps")
    hands.tap("Measure again", role="link")
    setting = "410.45"
    page.get_by_label("The machine's steps per mm now").fill(setting)
    hands.count += len(setting)
    hands.tap("Start")
    who = page.get_by_text("Who is at the bench?")
    expect(who.or_(page.get_by_role("heading", name="Reading 1:"))).to_be_visible()
    if who.is_visible():
        page.get_by_role("button", name="Ines").tap()
    for number, text in enumerate(("98.4", "98.1", "98.6"), start=1):
        expect(page.get_by_role("heading", name=f"Reading {number}:")).to_be_visible()
        hands.tap_digits(text)
        hands.tap("Take", exact=True)
    expect(page.get_by_test_id("verdict")).to_be_visible()
    hands.tap("Apply")
    page.get_by_role("dialog").get_by_role("button", name="Apply").tap()
    hands.count += 1
    expect(page.get_by_text("Applied by Ines")).to_be_visible()
    with capsys.disabled():
        print(f"\nphone, bench to value: {hands.count} taps and digits")
    assert hands.count <= 30
