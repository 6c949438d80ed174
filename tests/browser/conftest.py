"""A real Chromium on the real application. Any console error or refused content fails the test."""

from __future__ import annotations

import re
import shutil
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Browser, BrowserContext, Page, expect

from tests.serving import Served, copied, new_folder, served
from ubrex.browser import chromium
from ubrex.server.desk import hash_passphrase
from ubrex.server.runtime.folder import Folder

AXE = Path(__file__).parents[2] / "web" / "node_modules" / "axe-core" / "axe.min.js"
PASSPHRASE = "owl head lamp bracket"
NAME = "bench.test"
DESK = {"width": 1280, "height": 800}
PHONE = {"width": 390, "height": 844}
REFUSAL = re.compile(r"Failed to load resource: the server responded with a status of 4\d\d")
"""Chromium notes every refused request; those are answers a person asked for."""

expect.set_options(timeout=20_000)
"""No test asserts a time: a machine with other work to do may stand still for longer than the usual five seconds."""

OFFLINE = re.compile(r"Failed to load resource: net::ERR_(INTERNET_DISCONNECTED|FAILED)")


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    """One Chromium, for which ``bench.test`` is this machine."""
    with chromium(f"--host-resolver-rules=MAP {NAME} 127.0.0.1") as running:
        yield running


@pytest.fixture(scope="module")
def demo(sample_folder: Path) -> Iterator[Served]:
    """The sample workshop."""
    folder = copied(sample_folder)
    with served("start", "--data", str(folder), "--port", "8400") as running:
        yield running
    shutil.rmtree(folder.parent)


@pytest.fixture(scope="module")
def own() -> Iterator[Served]:
    """An empty workshop, by its command."""
    folder = new_folder()
    with served("start", "--data", str(folder), "--port", "8420") as running:
        yield running
    shutil.rmtree(folder.parent)


@pytest.fixture(scope="module")
def shed(sample_folder: Path) -> Iterator[str]:
    """Address of the sample workshop as a phone in the shed types it: plain HTTP, by name, with a passphrase."""
    path = copied(sample_folder)
    Folder(path).set_passphrase_hash(hash_passphrase(PASSPHRASE))
    options = ("--host", "0.0.0.0", "--allow-host", NAME, "--port", "8440")
    with served("start", "--data", str(path), *options) as running:
        yield f"http://{NAME}:{running.port}"
    shutil.rmtree(path.parent)


OpenPage = Callable[..., Page]


@pytest.fixture
def open_page(browser: Browser) -> Iterator[OpenPage]:
    """Opens pages of new browsers; at the end none may have complained."""
    contexts: list[BrowserContext] = []
    complaints: list[str] = []

    def open_one(
        address: str,
        *,
        beside: Page | None = None,
        viewport: dict[str, int] = DESK,
        theme: str = "light",
        touch: bool = False,
        keeps: bool = False,
    ) -> Page:
        """A page in a browser of its own, or in another tab of the browser of the page ``beside``.

        ``keeps``: what was seen is kept for where there is no network, as in a browser that somebody uses.
        """
        if beside is not None:
            return watch(beside.context, address)
        context = browser.new_context(
            viewport=viewport,  # type: ignore[arg-type]
            color_scheme=theme,  # type: ignore[arg-type]
            has_touch=touch,
            service_workers="allow" if keeps else "block",
        )
        contexts.append(context)
        return watch(context, address)

    def watch(context: BrowserContext, address: str) -> Page:
        page = context.new_page()
        page.set_default_timeout(15_000)
        page.on("console", lambda message: complaints.append(message.text) if message.type == "error" else None)
        page.on("pageerror", lambda error: complaints.append(str(error)))
        page.goto(address)
        return page

    yield open_one
    for context in contexts:
        context.close()
    assert [text for text in complaints if not REFUSAL.match(text) and not OFFLINE.match(text)] == []


def violations(page: Page, *, within: str = ":root", **only: object) -> list[Any]:
    """What axe-core finds wrong on a page: rule, help, and where; ``within``: in which part; ``only``: what it looks at."""
    page.evaluate("Promise.allSettled(document.getAnimations().map(one => one.finished))")
    if not page.evaluate("'axe' in window"):
        page.evaluate(AXE.read_text())
    found = page.evaluate(
        "([within, only]) => axe.run(within, {resultTypes: ['violations'], preload: false, ...only})", [within, only]
    )
    return [(row["id"], row["help"], [node["target"] for node in row["nodes"]]) for row in found["violations"]]


def dialog_violations(page: Page) -> list[Any]:
    """What is wrong with an open dialog, and with its contrast in the dark."""
    found = violations(page, within="[role=dialog]")
    page.emulate_media(color_scheme="dark")
    found += violations(page, within="[role=dialog]", runOnly=["color-contrast"])
    page.emulate_media(color_scheme="light")
    return found


def moved(page: Page, path: str) -> None:
    """Go to another screen as a link does: its title says that it is there. Who is there already, stays."""
    if page.evaluate("location.pathname + location.search") == path:
        return
    page.evaluate("document.title = ''")
    page.evaluate(
        "path => { history.pushState(history.state, '', path); dispatchEvent(new PopStateEvent('popstate')) }", path
    )
    expect(page).to_have_title(re.compile("."))


def signed_in(page: Page) -> None:
    """Say who is at the bench."""
    page.get_by_role("button", name="Who?").click()
    page.get_by_role("button", name="Ines").click()
    expect(page.get_by_role("dialog")).to_have_count(0)


def on_bench(page: Page, text: str) -> None:
    """Wait until the title block says so: the setup asked for is the one on the screen."""
    expect(page.get_by_role("region", name="What is on this screen")).to_contain_text(text)


def open_row(page: Page, step: str = "e_steps", name: str = "E-steps") -> None:
    """Open a row of the chain, whichever is next: fresh ones above it may be folded."""
    expect(page.get_by_role("heading", name="Calibration chain")).to_be_visible()
    if page.get_by_role("heading", name=name, exact=True).is_visible():
        return
    row = page.locator(f'button[data-step="{step}"]')
    if row.count() == 0:
        page.get_by_role("button", name="Fresh:").click()
    row.click()
    expect(page.get_by_role("heading", name=name, exact=True)).to_be_visible()
