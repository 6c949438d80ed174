"""Every key that a screen draws does something on it: none is a promise."""

from __future__ import annotations

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import OpenPage, dialog_violations, moved, signed_in
from tests.serving import Served, eventually

ARROWS = {"↑": "ArrowUp", "↓": "ArrowDown", "←": "ArrowLeft", "→": "ArrowRight", "Esc": "Escape"}
SCREENS = (
    "/",
    "/profiles",
    "/setups/1/pre-flight",
    "/setups/1/prints",
    "/setups/1/checks",
    "/setups/1/measure/flow",
    "/runs/1",
)


def drawn(page: Page) -> list[str]:
    """Caps in the foot of the screen."""
    return [text.strip() for text in page.locator("footer kbd").all_inner_texts()]


def settled(page: Page) -> None:
    """Wait until the screen has what it shows, and stands still."""
    expect(page.get_by_text("Reading …")).to_have_count(0)

    def still() -> bool:
        before = state(page)
        page.wait_for_timeout(100)
        return state(page) == before

    assert eventually(still)


def state(page: Page) -> tuple[str, str, str]:
    """Where the page is, what it shows, and what has the focus."""
    focus = "document.activeElement.outerHTML.slice(0, 200)"
    shown = "document.body.innerHTML + [...document.querySelectorAll('input')].map(e => e.checked)"
    return page.url, page.evaluate(shown), page.evaluate(focus)


@pytest.mark.parametrize("screen", SCREENS)
def test_each_key_that_is_drawn_does_something(demo: Served, open_page: OpenPage, screen: str) -> None:
    """Pressed one by one, each on the screen anew, with nothing focused. What opens can be used by all."""
    page = open_page(f"{demo.address}{screen}")
    signed_in(page)
    settled(page)
    caps = drawn(page)
    assert "?" in caps
    # A printer is not asked for; what P prints is held elsewhere.
    page.evaluate("window.print = () => { document.body.append('printed') }")
    for cap in caps:
        moved(page, "/nowhere")
        moved(page, screen)
        settled(page)
        page.evaluate("document.activeElement.blur()")
        before = state(page)
        parts = [ARROWS.get(part, part) for part in cap.split()]
        page.keyboard.press("+".join(part if len(part) > 1 else part.lower() for part in parts))
        assert eventually(lambda: state(page) != before), cap  # noqa: B023
        settled(page)
        if page.get_by_role("dialog").is_visible():
            assert dialog_violations(page) == [], cap
