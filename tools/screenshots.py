"""Take the pictures of the README from the sample workshop: ``.venv/bin/python -m tools.screenshots``."""

from __future__ import annotations

import io
import shutil
from pathlib import Path

from PIL import Image, ImageDraw
from playwright.sync_api import Browser, FilePayload, Page
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
        page.get_by_role("heading", name="Calibration chain").wait_for()
        page.wait_for_timeout(500)
        _keep(page, "bench")
        page.goto(f"{demo.address}/machines")
        page.get_by_role("heading", name="Machines").wait_for()
        _keep(page, "machines")
        page.goto(f"{demo.address}/profiles")
        page.get_by_role("heading", name="From revision").wait_for()
        _keep(page, "history")
        page.goto(demo.address)
        start_run(page, "410.45")
        type_readings(page, "98.4", "98.1", "98.6")
        page.get_by_test_id("verdict").wait_for()
        _keep(page, "run-e-steps")
        _pieces(page, demo.address)
        _towers(page, browser, demo.address)
        _attempts(page, browser, demo.address)
        _faults(page, browser, demo.address)
        _chain(page, demo.address)
    shutil.rmtree(folder.parent)


def _pieces(page: Page, address: str) -> None:
    """A file that would do harm."""
    text = page.request.get(f"{address}/api/v1/runs/16/files/piece").text().replace("M109 S210", "M109 S255")
    page.goto(f"{address}/setups/1/file-check")
    file = FilePayload(name="lamp-bracket.gcode", mimeType="text/plain", buffer=text.encode())
    page.get_by_label("Choose a file").set_input_files(file)
    page.get_by_text("Do not print this here").wait_for()
    _keep(page, "file-check")


def _towers(page: Page, browser: Browser, address: str) -> None:
    """A tower for the lamp brackets, rated but for its last tabs; pulls of soft filament; foam for the owl heads."""
    page.goto(f"{address}/setups/3/measure/temperature")
    page.get_by_role("heading", name="Temperature tower").wait_for()
    page.get_by_label("Coldest band").fill("235")
    page.get_by_label("Hottest band").fill("270")
    page.get_by_role("button", name="Start").click()
    page.get_by_text("Rate the ends first").wait_for()
    page.keyboard.press("t")
    page.wait_for_timeout(300)
    for key, figures in (
        ("stringing", "44443210"), ("overhang", "44433221"), ("bridging", "44443211"), ("surface", "23343322"),
        ("blobs", "44443321"), ("detail", "44333221"), ("bond", "0123444."),
    ):  # fmt: skip
        _rate(page, key, figures)
    page.get_by_test_id("verdict").wait_for()
    _keep(page, "run-temperature")
    phone = browser.new_page(
        viewport={"width": 390, "height": 844}, color_scheme="light", is_mobile=True, has_touch=True
    )
    phone.goto(page.url)
    phone.get_by_text("1 of 8 from the top").wait_for()
    _keep(phone, "run-temperature-phone")


def _chain(page: Page, address: str) -> None:
    """The rest of the chain: heat, pressure, a fit, the melt ladder; a value over the year, all setups, checks."""
    for run, name in ((11, "run-heat"), (28, "run-pressure"), (13, "run-fit")):
        page.goto(f"{address}/runs/{run}")
        page.get_by_text("Applied by Ines").first.wait_for()
        _keep(page, name)
    page.goto(f"{address}/setups/1/measure/top_speed")
    page.get_by_role("button", name="Start").click()
    page.get_by_text("Reading 1").wait_for()
    for mass in ("0.993", "0.994", "0.992", "0.993", "0.992", "0.985", "0.962", "0.931"):
        page.keyboard.type(mass)
        page.keyboard.press("Enter")
        page.wait_for_timeout(300)
    page.get_by_test_id("verdict").wait_for()
    _keep(page, "run-speed")
    page.goto(f"{address}/setups/9/course")
    page.get_by_role("heading", name="Flow, walls").wait_for()
    _keep(page, "drift")
    page.goto(f"{address}/setups")
    page.get_by_role("heading", name="Which one tonight?").wait_for()
    _keep(page, "setups")


def _attempts(page: Page, browser: Browser, address: str) -> None:
    """A part with all its attempts, one of them photographed; an attempt written down on the phone."""
    picture = io.BytesIO()
    _joint().save(picture, "PNG")
    page.goto(f"{address}/attempts/9")
    page.get_by_role("button", name="Add a photo of attempt 9").click()
    photo = FilePayload(name="joint.png", mimeType="image/png", buffer=picture.getvalue())
    page.locator('input[type="file"]').set_input_files(photo)
    page.get_by_role("dialog").get_by_role("img").wait_for()
    page.keyboard.press("Escape")
    page.get_by_role("img", name="Attempt 9").wait_for()
    _keep(page, "attempts")
    phone = browser.new_page(
        viewport={"width": 390, "height": 844}, color_scheme="light", is_mobile=True, has_touch=True
    )
    phone.goto(address)
    phone.get_by_role("banner").get_by_role("button", name="Attempt").tap()
    phone.get_by_role("button", name="Strings", exact=True).tap()
    _keep(phone, "attempt-phone")


def _faults(page: Page, browser: Browser, address: str) -> None:
    """An open case on the desk, and on the phone; a guide; what stops everything."""
    page.goto(f"{address}/faults/3")
    page.get_by_role("region", name="Next check").wait_for()
    _keep(page, "faults")
    phone = browser.new_page(
        viewport={"width": 390, "height": 844}, color_scheme="dark", is_mobile=True, has_touch=True
    )
    phone.goto(f"{address}/faults/3")
    phone.get_by_role("region", name="Next check").wait_for()
    _keep(phone, "faults-phone")
    phone.goto(f"{address}/setups/1/guides?guide=blockage")
    phone.get_by_role("button", name="Done").tap()
    phone.get_by_role("button", name="It does not").wait_for()
    _keep(phone, "guide-phone")
    page.goto(f"{address}/stop")
    page.get_by_role("heading", name="Stop first").wait_for()
    _keep(page, "stop-first")


def _joint() -> Image.Image:
    """An elbow joint as a camera might see it, drawn: two arms, a pin, strings in the socket."""
    image = Image.new("RGB", (800, 600), (206, 214, 205))
    draw = ImageDraw.Draw(image)
    draw.polygon([(150, 420), (420, 260), (470, 330), (200, 490)], fill=(222, 205, 164))
    draw.polygon([(420, 260), (660, 300), (650, 380), (440, 340)], fill=(214, 196, 152))
    draw.ellipse((370, 220, 510, 370), fill=(232, 217, 180), outline=(150, 132, 96), width=6)
    draw.ellipse((420, 270, 460, 318), fill=(90, 80, 62))
    for offset in range(0, 60, 12):
        draw.line([(400 + offset, 350), (430 + offset, 400)], fill=(240, 232, 210), width=2)
    return image


def _rate(page: Page, key: str, figures: str) -> None:
    """Rate one criterion from the top band down."""
    count = len(figures)
    for row, figure in enumerate(figures):
        if figure != ".":
            page.locator(f'[data-cell="{count - 1 - row}:{key}"]').click()
            page.keyboard.press(figure)
            page.wait_for_timeout(150)


def _keep(page: Page, name: str) -> None:
    page.wait_for_timeout(600)
    page.screenshot(path=PICTURES / f"{name}.png")


if __name__ == "__main__":
    main()
