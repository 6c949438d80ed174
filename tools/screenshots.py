"""Take the pictures of the README from the sample workshop: ``.venv/bin/python -m tools.screenshots``."""

from __future__ import annotations

import shutil
from pathlib import Path

from playwright.sync_api import Page
from tests.browser.conftest import on_bench
from tests.browser.test_story import start_run, type_readings
from tests.serving import new_folder, served

from ubrex.browser import chromium

PICTURES = Path(__file__).parents[1] / "docs" / "screenshots"


def main() -> None:
    """Start a sample workshop of its own, walk through it, keep one picture of each main view."""
    folder = new_folder()
    with served("demo", "--data", str(folder), "--port", "8480") as demo, chromium() as browser:
        page = browser.new_page(viewport={"width": 1280, "height": 800}, color_scheme="light")
        page.goto(demo.address)
        page.get_by_role("button", name="Who?").click()
        page.get_by_role("button", name="Ines").click()
        page.get_by_role("heading", name="E-steps").wait_for()
        _keep(page, "bench")
        page.keyboard.press("/")
        page.get_by_label("Find a setup").wait_for()
        page.keyboard.type("kestrel petg")
        page.keyboard.press("Enter")
        on_bench(page, "Tarn PETG smoke")
        page.emulate_media(color_scheme="dark")
        _keep(page, "bench-dark")
        page.emulate_media(color_scheme="light")
        page.keyboard.press("c")
        page.get_by_label("Find what was done").wait_for()
        page.keyboard.type("firmware")
        page.keyboard.press("Enter")
        page.get_by_label("Note, if you like").wait_for()
        _keep(page, "change")
        page.evaluate("localStorage.removeItem('ubrex.setup')")
        for name in ("machines", "filaments"):
            page.goto(f"{demo.address}/{name}")
            page.get_by_role("heading", name=name.capitalize()).wait_for()
            _keep(page, name)
        page.goto(f"{demo.address}/setups/1/pre-flight")
        page.get_by_role("heading", name="Before the print").wait_for()
        _keep(page, "pre-flight")
        page.goto(f"{demo.address}/profiles")
        page.get_by_role("heading", name="From revision").wait_for()
        _keep(page, "history")
        page.goto(demo.address)
        start_run(page, "410.45")
        type_readings(page, "98.4", "98.1", "98.6")
        page.get_by_test_id("verdict").wait_for()
        _keep(page, "run-e-steps")
    shutil.rmtree(folder.parent)


def _keep(page: Page, name: str) -> None:
    page.wait_for_timeout(600)
    page.screenshot(path=PICTURES / f"{name}.png")


if __name__ == "__main__":
    main()
