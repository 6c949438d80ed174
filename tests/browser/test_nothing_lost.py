"""What goes wrong at a bench: no network, a closed browser, a second tab, a slip of the finger."""

from __future__ import annotations

import re

from playwright.sync_api import APIResponse, Page, Route, expect

from tests.browser.conftest import OpenPage, on_bench
from tests.browser.test_story import start_run, type_readings
from tests.serving import Served


def put_on_bench(page: Page, name: str) -> None:
    """Put a setup on the bench by part of its name."""
    expect(page.get_by_role("heading", name="Calibration chain")).to_be_visible()
    page.keyboard.press("/")
    expect(page.get_by_label("Find a setup")).to_be_focused()
    page.keyboard.type(name)
    expect(page.get_by_role("option").first).to_contain_text(re.compile(name.split()[-1], re.I))
    page.keyboard.press("Enter")


def entry(page: Page) -> str:
    """What stands in the entry field."""
    return page.locator("[data-entry]").input_value()


def leave(page: Page) -> None:
    """Leave the open run undecided."""
    page.keyboard.press("l")
    page.keyboard.press("Enter")
    expect(page.get_by_text("Calibration chain")).to_be_visible()


def test_a_slip_is_asked_about_at_the_field_and_the_digits_stay(demo: Served, open_page: OpenPage) -> None:
    """984 is offered as 98.4 in one press; 50 needs a second Enter; an empty field is said at the field."""
    page = open_page(demo.address)
    start_run(page, "410.45")
    page.keyboard.type("984")
    page.keyboard.press("Enter")
    expect(page.get_by_text("Did you mean 98.4 mm?")).to_be_visible()
    assert entry(page) == "984"
    page.get_by_role("button", name="Take 98.4").click()
    table = page.get_by_role("region", name="Readings")
    expect(table).to_contain_text("98.40")
    page.locator("[data-entry]").focus()
    page.keyboard.type("50")
    page.keyboard.press("Enter")
    expect(page.get_by_text("no wear or slip does that")).to_be_visible()
    page.keyboard.press("Enter")
    expect(table).to_contain_text("odd, taken as typed")
    expect(page.get_by_text("one of them must be wrong")).to_be_visible()
    page.keyboard.press("u")
    expect(table).not_to_contain_text("odd, taken as typed")
    page.keyboard.press("Control+z")
    expect(table.get_by_text("None yet.")).to_be_visible()
    expect(table.get_by_text("All entries (2)")).to_be_visible()
    page.keyboard.press("Enter")
    expect(page.get_by_text("Type what the tool shows, then Enter.")).to_be_visible()
    leave(page)


def test_a_slow_answer_from_before_a_reading_does_not_take_it_off_the_screen(demo: Served, open_page: OpenPage) -> None:
    """The run is asked for again when 50 is refused; 50, which outlived its page, is taken before that answer is there."""
    page = open_page(demo.address)
    start_run(page, "410.45")
    type_readings(page, "98.4")
    table = page.get_by_role("region", name="Readings")
    expect(table).to_contain_text("98.40")
    page.keyboard.type("50")
    page.keyboard.press("Enter")
    expect(page.get_by_text("no wear or slip does that")).to_be_visible()
    page.reload()
    expect(page.locator("[data-entry]")).to_have_value("50")
    held: list[tuple[Route, APIResponse]] = []
    page.route(re.compile(r"/api/v1/runs/\d+\?"), lambda route: held.append((route, route.fetch())))
    page.keyboard.press("Enter")
    expect(page.get_by_text("no wear or slip does that")).to_be_visible()
    page.keyboard.press("Enter")
    expect(table).to_contain_text("odd, taken as typed")
    assert held
    for route, before in held:
        with page.expect_event("requestfinished"):
            route.fulfill(response=before)
    page.wait_for_timeout(300)
    expect(table).to_contain_text("odd, taken as typed")
    page.unroute_all()
    leave(page)


def test_a_late_answer_does_not_bring_back_what_was_taken_back_meanwhile(demo: Served, open_page: OpenPage) -> None:
    """98.1 is stored and taken back before its own answer is there."""
    page = open_page(demo.address)
    start_run(page, "410.45")
    type_readings(page, "98.4")
    held: list[tuple[Route, APIResponse]] = []
    page.route(
        "**/api/v1/runs/*/readings",
        lambda route: route.continue_() if held else held.append((route, route.fetch())),
    )
    page.keyboard.type("98.1")
    page.keyboard.press("Enter")
    table = page.get_by_role("region", name="Readings")
    expect(table.get_by_text("not sent yet")).to_be_visible()
    for _ in range(100):
        page.wait_for_timeout(50)
        if held:
            break
    page.keyboard.press("u")
    expect(table.locator("tbody tr")).to_have_count(1)
    for route, late in held:
        route.fulfill(response=late)
    expect(table.get_by_text("All entries (2)")).to_be_visible()
    expect(table.get_by_text("not sent yet")).to_have_count(0)
    expect(table.locator("tbody tr")).to_have_count(1)
    expect(table.locator("table")).not_to_contain_text("98.10")
    leave(page)


def test_a_reading_taken_behind_an_early_result_is_shown(demo: Served, open_page: OpenPage) -> None:
    """One reading gives no result yet; it is asked for early, and the next reading stands in the table all the same."""
    page = open_page(demo.address)
    start_run(page, "410.45")
    type_readings(page, "98.4")
    page.keyboard.press("e")
    expect(page.get_by_role("region", name="Verdict")).to_contain_text("set 417.12 steps/mm")
    page.keyboard.type("98.1")
    page.keyboard.press("Enter")
    expect(page.get_by_role("region", name="Readings")).to_contain_text("98.10")
    leave(page)


def test_readings_without_a_network_wait_in_the_browser_and_arrive_once(demo: Served, open_page: OpenPage) -> None:
    """The shed has no signal: entry goes on, the foot says so, a closed page loses nothing."""
    page = open_page(demo.address)
    put_on_bench(page, "cinder")
    start = page.get_by_role("link", name=re.compile("Start e-steps run|Measure again"))
    on_bench(page, "Cinder ASA black")
    start.click()
    page.get_by_role("radio", name=re.compile("^Open air")).click()
    page.get_by_label("The machine's mm per motor turn now").fill("4.521")
    page.keyboard.press("Enter")
    page.get_by_role("button", name="Ines").click()
    expect(page.get_by_text("Reading 1:")).to_be_visible()
    address = page.url
    context = page.context
    context.set_offline(True)
    for count, reading in enumerate(("98.4", "98.1"), start=1):
        page.keyboard.type(reading)
        page.keyboard.press("Enter")
        expect(page.get_by_text("not sent yet")).to_have_count(count)
    expect(page.get_by_text("Kept on this laptop, 2 readings not sent. Trying again.")).to_be_visible()
    page.keyboard.type("97.")
    other = context.new_page()
    page.close()
    context.set_offline(False)
    again = open_page(address, beside=other)
    table = again.get_by_role("region", name="Readings")
    expect(table).to_contain_text("98.10")
    expect(table.locator("tbody tr")).to_have_count(2)
    assert entry(again) == "97."
    expect(again.get_by_text("not sent yet")).to_have_count(0)


def test_a_waiting_reading_that_is_refused_steps_aside_and_is_not_lost(demo: Served, open_page: OpenPage) -> None:
    """While it waited, somebody left the run: it stands under Not placed with the reason, until a person lets it go."""
    phone = open_page(demo.address)
    put_on_bench(phone, "thistledown")
    phone.get_by_role("link", name="Go on with run").click()
    expect(phone.get_by_text("Reading 2:")).to_be_visible()
    phone.context.set_offline(True)
    phone.keyboard.type("96.4")
    phone.keyboard.press("Enter")
    phone.get_by_role("button", name="Ines").click()
    expect(phone.get_by_text("1 reading not sent")).to_be_visible()
    laptop = open_page(phone.url)
    expect(laptop.get_by_text("Reading 2:")).to_be_visible()
    laptop.keyboard.press("l")
    laptop.keyboard.press("Enter")
    laptop.get_by_role("button", name="Wim").click()
    expect(laptop.get_by_text("Calibration chain")).to_be_visible()
    phone.context.set_offline(False)
    not_placed = phone.get_by_role("region", name="Not placed")
    expect(not_placed).to_contain_text("96.4")
    expect(not_placed).to_contain_text("was left")
    expect(phone.get_by_role("heading", name="Left undecided.")).to_be_visible()
    phone.keyboard.press("Escape")
    phone.get_by_role("link", name=re.compile("was not placed")).click()
    not_placed.get_by_role("button", name="Let it go").click()
    expect(not_placed).to_have_count(0)


def test_a_second_tab_cannot_decide_on_what_it_has_not_seen(demo: Served, open_page: OpenPage) -> None:
    """Its result moved: it is told to look again, and then decides on what is there."""
    page = open_page(demo.address)
    put_on_bench(page, "heron fallow")
    on_bench(page, "Heron")
    start_run(page, "410.45")
    type_readings(page, "98.4", "98.1", "98.6")
    page.keyboard.press("k")
    expect(page.get_by_role("button", name="Keep 410.45").last).to_be_focused()
    second = open_page(page.url, beside=page)
    expect(second.get_by_text("Reading 4:")).to_be_visible()
    second.keyboard.type("98.3")
    second.keyboard.press("Enter")
    expect(second.get_by_text("Reading 5:")).to_be_visible()
    page.bring_to_front()
    page.keyboard.press("Enter")
    expect(page.get_by_text("Look at the result again, then decide")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.get_by_text("Reading 5:")).to_be_visible()
    leave(page)


def test_letter_keys_can_be_switched_off_and_the_theme_is_remembered(demo: Served, open_page: OpenPage) -> None:
    """WCAG 2.1.4; and a choice of theme holds from the first paint."""
    page = open_page(demo.address)
    expect(page.get_by_role("heading", name="Calibration chain")).to_be_visible()
    page.keyboard.press("?")
    expect(page.get_by_text("Keys on this screen")).to_be_visible()
    page.get_by_label("Single letters act as keys").uncheck()
    page.get_by_label("Dark", exact=True).check()
    page.keyboard.press("Escape")
    page.keyboard.press("h")
    page.wait_for_timeout(200)
    assert page.url.rstrip("/") == demo.address
    page.reload()
    expect(page.locator("html")).to_have_attribute("data-theme", "dark")
