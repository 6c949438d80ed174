"""Sheets that lie over a screen, and what a person looks for first: found, closed by Back, named in the browser's lists."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from tests.browser.conftest import PHONE, OpenPage, violations
from tests.serving import Served


def test_back_lays_a_sheet_away_and_leaves_the_screen_where_it_was(demo: Served, open_page: OpenPage) -> None:
    """As people close things on a phone; after that Back leaves the screen as ever."""
    page = open_page(f"{demo.address}/runs")
    page.get_by_role("link", name="Bench", exact=True).click()
    expect(page.get_by_role("heading", name="Calibration chain")).to_be_visible()
    for key in ("c", "n", "a"):
        page.keyboard.press(key)
        expect(page.get_by_role("dialog")).to_be_visible()
        page.go_back()
        expect(page.get_by_role("dialog")).to_have_count(0)
        expect(page.get_by_role("heading", name="Calibration chain")).to_be_visible()
    page.keyboard.press("c")
    page.get_by_role("button", name="Close").click()
    expect(page.get_by_role("dialog")).to_have_count(0)
    page.go_back()
    expect(page).to_have_url(re.compile("/runs$"))


def test_a_screen_that_follows_a_sheet_at_once_stays(demo: Served, open_page: OpenPage) -> None:
    """Going back in the history takes the browser a moment; a sheet laid away and a page opened in that moment stand."""
    page = open_page(f"{demo.address}/runs")
    page.get_by_role("link", name="Bench", exact=True).click()
    expect(page.get_by_role("heading", name="Calibration chain")).to_be_visible()
    page.keyboard.press("c")
    expect(page.get_by_role("dialog")).to_be_visible()
    page.evaluate(
        """() => {
            [...document.querySelectorAll('[role="dialog"] button')].find((one) => /^Close/.test(one.innerText)).click();
            setTimeout(() => document.querySelector('nav a[href="/machines"]').click(), 1);
        }"""
    )
    page.wait_for_timeout(300)
    expect(page).to_have_url(re.compile("/machines$"))
    for address in ("/$", "/runs$"):
        page.go_back()
        expect(page).to_have_url(re.compile(address))


def test_a_screen_is_named_where_browsers_list_it(demo: Served, open_page: OpenPage) -> None:
    """Two tabs are told apart, and a screen reader says where it is."""
    page = open_page(demo.address)
    for address, title in (
        ("/", "Bench | Ubrex"),
        ("/runs", "Runs | Ubrex"),
        ("/setups/1/prints", "Attempts | Heron, lined hotend, 0.4 brass, Smooth sheet, Fallow PLA oat | Ubrex"),
        ("/setups/1/measure/flow", "New run: Flow | Ubrex"),
        ("/runs/1", re.compile(r"^E-steps, run 1 \| Heron.*\| Ubrex$")),
    ):
        page.goto(f"{demo.address}{address}")
        expect(page).to_have_title(title)


def test_an_attempt_is_written_down_read_found_and_taken_back(demo: Served, open_page: OpenPage) -> None:
    """By keyboard; one that was stopped early asks for nothing but its name."""
    page = open_page(f"{demo.address}/setups/1/prints")
    expect(page.get_by_role("heading", name="Attempts")).to_be_visible()
    page.keyboard.press("a")
    page.get_by_label("Part", exact=True).fill("fox mask")
    page.get_by_role("button", name="Stopped early").press("Space")
    page.get_by_text("Photo, fit, counts").press("Enter")
    page.get_by_label("How does it look?").select_option("bad")
    page.get_by_label("Note").fill("strings at the ears")
    page.keyboard.press("Enter")
    who = page.get_by_text("Who is at the bench?")
    line = page.get_by_role("listitem").filter(has_text="fox mask")
    expect(who.or_(line)).to_be_visible()
    if who.is_visible():
        page.keyboard.press("Enter")
    expect(line).to_contain_text("stopped early, looks bad")
    page.goto(demo.address)
    expect(page.get_by_role("heading", name="Calibration chain")).to_be_visible()
    page.keyboard.press("/")
    expect(page.get_by_label("Find a setup")).to_be_focused()
    page.keyboard.type("ears fox")
    expect(page.get_by_role("option", name="fox mask: strings at the ears")).to_be_visible()
    page.keyboard.press("Enter")
    expect(page).to_have_url(re.compile("/setups/1/prints$"))
    page.get_by_role("button", name="Take back: fox mask").click()
    expect(line).to_contain_text("taken back")
    expect(line.locator("s")).to_have_text("fox mask")


def test_a_phone_begins_with_what_is_next_and_reaches_all_six_parts(demo: Served, open_page: OpenPage) -> None:
    """The button of the next step is on the first screen; the line of the setup opens every picker; axe finds nothing."""
    page = open_page(demo.address, viewport=PHONE, touch=True, theme="dark")
    next_step = page.get_by_role("region").filter(has=page.get_by_text("Next", exact=True)).get_by_role("link").first
    expect(next_step).to_be_in_viewport()
    for part, title in (
        ("Machine", "Another machine"),
        ("Nozzle", "Another nozzle"),
        ("Surface", "Another build surface"),
        ("Filament", "Another filament"),
        ("Tuned for", "What it is tuned for"),
        ("Room", "The room tonight"),
    ):
        page.get_by_role("button", name=re.compile("^Heron, lined hotend")).tap()
        expect(page.get_by_role("heading", name="On the bench")).to_be_visible()
        assert violations(page) == []
        page.get_by_role("button", name=re.compile(f"^{part}")).tap()
        expect(page.get_by_role("heading", name=re.compile(title))).to_be_visible()
        page.get_by_role("button", name="Close").tap()
        expect(page.get_by_role("dialog")).to_have_count(0)


def test_what_was_done_on_the_bench_is_undone_by_one_key(demo: Served, open_page: OpenPage) -> None:
    """A change logged, and one taken back; a tick. Each press goes one further back."""
    page = open_page(demo.address)
    expect(page.get_by_role("heading", name="Calibration chain")).to_be_visible()
    margin = page.get_by_role("complementary")
    page.keyboard.press("c")
    expect(page.get_by_label("Find what was done")).to_be_focused()
    page.keyboard.type("plate")
    page.keyboard.press("Enter")
    expect(page.get_by_label("Note, if you like")).to_be_focused()
    page.keyboard.type("for the undo")
    page.keyboard.press("Enter")
    who = page.get_by_text("Who is at the bench?")
    logged = margin.get_by_text("for the undo")
    expect(who.or_(logged)).to_be_visible()
    if who.is_visible():
        page.keyboard.press("Enter")
    expect(logged).to_be_visible()
    lines = margin.locator("li", has_text="for the undo")
    lines.get_by_role("button", name="Take back").click()
    expect(lines.locator("s")).to_be_visible()
    tick = page.get_by_label("Layer height is typed in")
    before = tick.is_checked()
    tick.click()
    expect(tick).to_be_checked(checked=not before)
    page.keyboard.press("Control+z")
    expect(tick).to_be_checked(checked=before)
    page.keyboard.press("Control+z")
    expect(lines).to_have_count(2)
    expect(lines.locator("s")).to_have_count(1)
    margin.get_by_role("button", name="Undo").click()
    expect(lines.get_by_role("button", name="Take back")).to_have_count(1)


def test_which_setup_tonight_is_answered_on_one_screen(demo: Served, open_page: OpenPage) -> None:
    """One key from the bench; a press puts the setup there. Nothing for axe to find, on the phone neither."""
    page = open_page(demo.address)
    expect(page.get_by_role("heading", name="Calibration chain")).to_be_visible()
    page.keyboard.press("w")
    rows = page.get_by_role("row")
    expect(rows.filter(has_text="Wren")).to_contain_text("Nobody has said whether this machine stops heating")
    assert violations(page) == []
    page.set_viewport_size({"width": 390, "height": 844})
    assert violations(page) == []
    rows.filter(has_text="Tarn PETG smoke").first.get_by_role("button").click()
    expect(page.get_by_role("heading", name="Calibration chain")).to_be_visible()
    expect(page).to_have_title("Bench | Ubrex")
