"""Readings of a box land where the screen asked for them: in two tabs, offline, by mouse, and from a list."""

from __future__ import annotations

from playwright.sync_api import Locator, Page, expect

from tests.browser.conftest import OpenPage
from tests.browser.test_printed_piece import to_flow
from tests.serving import Served


def start_box(page: Page) -> None:
    """A flow run on the bench's setup, its first wall asked for."""
    to_flow(page)
    page.get_by_label("Measuring tool").select_option(label="Calliper 2")
    page.get_by_label("Line width").press("Enter")
    who = page.get_by_text("Who is at the bench?")
    first = page.get_by_role("heading", name="Reading 1: wall A")
    expect(who.or_(first)).to_be_visible()
    if who.is_visible():
        page.keyboard.press("Enter")
    expect(first).to_be_visible()


def rows(page: Page) -> list[str]:
    """Place and number of each reading that is shown."""
    table = page.get_by_role("region", name="Readings").locator("tbody tr")
    return [" ".join(row.split("\t")[:2]) for row in table.all_inner_texts()]


def asked(page: Page, text: str) -> Locator:
    """The heading that asks for a reading."""
    return page.get_by_role("heading", name=text)


def test_each_reading_lands_where_it_was_asked_for(demo: Served, open_page: OpenPage) -> None:
    """Another tab, no network, a mouse on Take, a list: the place is the one on the screen, or it is asked about."""
    page = open_page(demo.address)
    start_box(page)
    page.keyboard.type("0.46")
    page.get_by_role("button", name="Take Enter").click()
    expect(asked(page, "Reading 2: wall B")).to_be_visible()
    other = open_page(page.url, beside=page)
    expect(asked(other, "Reading 2: wall B")).to_be_visible()
    page.bring_to_front()
    page.get_by_role("heading", name="Readings").or_(page.get_by_text("Readings, mm")).first.click()
    page.keyboard.type("0.47")
    expect(page.locator("[data-entry]")).to_have_value("0.47")
    expect(page.locator("[data-entry]")).to_be_focused()

    other.keyboard.type("0.45")
    # The first tab has not looked again yet when its reading goes out.
    page.context.set_offline(True)
    page.keyboard.press("Enter")
    expect(asked(page, "Reading 3: wall C")).to_be_visible()
    expect(page.get_by_role("img", name="measure C")).to_be_visible()
    page.keyboard.type("0.44")
    page.keyboard.press("Enter")
    expect(asked(page, "Reading 4: wall D")).to_be_visible()
    assert rows(page) == ["A1 0.46", "B1 0.47", "C1 0.44"]
    page.keyboard.press("u")
    expect(asked(page, "Reading 3: wall C")).to_be_visible()
    page.keyboard.type("0.44")
    page.keyboard.press("Enter")
    page.context.set_offline(False)
    expect(page.get_by_text("not sent yet")).to_have_count(0, timeout=20_000)
    expect(asked(page, "Reading 4: wall D")).to_be_visible()
    other.keyboard.press("Enter")
    expect(other.get_by_text("B1 has been read meanwhile: 0.47")).to_be_visible()
    expect(other.locator("[data-entry]")).to_have_value("0.45")
    expect(asked(other, "Reading 4: wall D")).to_be_visible()
    other.keyboard.press("Enter")
    expect(other.get_by_role("region", name="Readings")).to_contain_text("D1")
    expect(page.get_by_role("region", name="Readings")).to_contain_text("D1")
    assert rows(page) == ["A1 0.46", "B1 0.47", "C1 0.44", "D1 0.45"]

    page.keyboard.press("v")
    page.get_by_label("Readings, from wall").fill("B\t0.46\nA\t0.455\t4.4")
    page.keyboard.press("Control+Enter")
    preview = page.get_by_role("dialog")
    expect(preview.get_by_text("3 readings")).to_be_visible()
    expect(preview.get_by_role("row").nth(3)).to_contain_text("Did you mean 0.44 mm?")
    preview.get_by_role("textbox").fill("B\t0.46\nA\t0.455")
    page.keyboard.press("Control+Enter")
    expect(preview.get_by_text("2 readings")).to_be_visible()
    assert [row.split("\t")[:2] for row in preview.locator("tbody tr").all_inner_texts()] == [
        ["B2", "0.46"],
        ["A2", "0.455"],
    ]
    page.keyboard.press("Control+Enter")
    expect(page.get_by_role("dialog")).to_have_count(0)
    expect(page.get_by_role("region", name="Readings").locator("tbody tr")).to_have_count(6)
    assert rows(page)[-2:] == ["B2 0.46", "A2 0.455"]
    page.get_by_role("button", name="Take back the list of 2").click()
    expect(page.get_by_role("region", name="Readings").locator("tbody tr")).to_have_count(4)
    expect(page.get_by_text("All entries (7)")).to_be_visible()
    assert rows(page) == ["A1 0.46", "B1 0.47", "C1 0.44", "D1 0.45"]
