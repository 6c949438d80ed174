"""An attempt in three taps on the phone; what was tried is put back at the bench; without a network nothing is lost."""

from __future__ import annotations

import io
import re

from PIL import Image
from playwright.sync_api import FilePayload, expect

from tests.browser.conftest import PHONE, OpenPage, signed_in
from tests.serving import Served


def test_three_taps_write_an_attempt_down(demo: Served, open_page: OpenPage) -> None:
    """Attempt, the sign that went wrong, done: the part is the last one, and what is still tried comes along."""
    page = open_page(demo.address)
    signed_in(page)
    page.set_viewport_size(PHONE)  # type: ignore[arg-type]
    page.goto(demo.address)
    page.get_by_role("banner").get_by_role("button", name="Attempt").click()
    dialog = page.get_by_role("dialog", name="Attempt")
    expect(dialog.get_by_label("Part", exact=True)).to_have_value("elbow joint")
    dialog.get_by_role("button", name="Corners", exact=True).click()
    dialog.get_by_role("button", name="Write it down").click()
    expect(dialog).to_have_count(0)
    page.goto(f"{demo.address}/setups/1/prints")
    first = page.get_by_role("listitem").first
    expect(first).to_contain_text("elbow joint")
    expect(first).to_contain_text("Corners 1, high")


def test_what_was_tried_is_put_back_at_the_bench_and_a_part_is_read_side_by_side(
    demo: Served, open_page: OpenPage
) -> None:
    """The key writes down, the margin leads to the part, its table marks what changed."""
    page = open_page(demo.address)
    signed_in(page)
    expect(page.get_by_text("Calibration chain")).to_be_visible()
    page.keyboard.press("a")
    dialog = page.get_by_role("dialog", name="Attempt")
    dialog.get_by_label("Part", exact=True).fill("owl head")
    dialog.get_by_role("button", name="Good", exact=True).click()
    dialog.get_by_role("button", name="Something else too").click()
    dialog.get_by_label("Was").last.fill("55")
    dialog.get_by_label("Was").last.press("Enter")
    expect(dialog.get_by_text("melts")).to_have_count(0)
    expect(dialog).to_contain_text(re.compile("°C"))
    dialog.get_by_label("Was").last.fill("200")
    dialog.get_by_role("button", name="Write it down").click()
    expect(dialog).to_have_count(0)
    margin = page.get_by_role("complementary")
    expect(margin.get_by_role("heading", name="owl head")).to_be_visible()
    expect(page.get_by_text("for this trial only, 205 otherwise")).to_be_visible()
    margin.get_by_role("button", name="Put back: Nozzle, rest").click()
    expect(page.get_by_text("for this trial only, 205 otherwise")).to_have_count(0)
    margin.get_by_role("link", name=re.compile(r"^\d+$")).first.click()
    expect(page.get_by_role("heading", name="owl head")).to_be_visible()
    row = page.get_by_role("row").filter(has=page.get_by_role("rowheader", name="Nozzle, rest"))
    expect(row.get_by_text("(changed)").first).to_be_attached()


def test_an_attempt_written_without_a_network_comes_there_once_with_its_photograph(
    demo: Served, open_page: OpenPage
) -> None:
    """Kept in this browser, sent when the network is back, at the time at which it was written."""
    page = open_page(demo.address)
    signed_in(page)
    margin = page.get_by_role("complementary")
    expect(margin.get_by_role("button", name="Attempt")).to_be_visible()
    page.wait_for_timeout(2500)  # By then the rest of the application has been fetched.
    page.wait_for_load_state("networkidle")
    page.context.set_offline(True)
    page.keyboard.press("a")
    dialog = page.get_by_role("dialog", name="Attempt")
    dialog.get_by_label("Part", exact=True).fill("heron's beak")
    dialog.get_by_role("button", name="Seam", exact=True).click()
    dialog.get_by_text("Photo, fit, counts").click()
    picture = io.BytesIO()
    Image.new("RGB", (800, 600), (90, 120, 60)).save(picture, "PNG")
    photo = FilePayload(name="beak.png", mimeType="image/png", buffer=picture.getvalue())
    dialog.locator('input[type="file"]').set_input_files(photo)
    dialog.get_by_role("button", name="Write it down").click()
    expect(dialog).to_have_count(0)
    expect(page.get_by_role("status").filter(has_text="1 entry not sent")).to_be_visible()
    page.context.set_offline(False)
    expect(page.get_by_role("status").filter(has_text="1 entry not sent")).to_have_count(0, timeout=15000)
    expect(margin.get_by_role("heading", name="heron's beak")).to_be_visible()
    margin.get_by_role("link", name="1", exact=True).click()
    expect(page.get_by_role("heading", name="heron's beak")).to_be_visible()
    expect(page.get_by_role("columnheader").filter(has_text="Heron, Ines")).to_have_count(1)
    expect(page.get_by_role("img", name="Attempt 1")).to_be_visible()


def test_a_checked_file_goes_along_and_what_prints_is_reminded_of_its_change(demo: Served, open_page: OpenPage) -> None:
    """Checked, it is the file of what prints now; what is to be changed on the way stands on every screen when it is due."""
    page = open_page(demo.address)
    signed_in(page)
    page.goto(f"{demo.address}/setups/1/file-check")
    lines = "G21 | G90 | M83 | M109 S210 | G28 | G0 X80 Y80 Z0.24 | G1 X120 E1.5 F1800 | G1 Y120 E1.5 | M104 S0 | M140 S0 | "
    box = lines.replace(" | ", "\n")
    sliced = FilePayload(name="owl.gcode", mimeType="text/plain", buffer=box.encode())
    page.get_by_label("Choose a file").set_input_files(sliced)
    page.get_by_role("button", name="Attempt with it").click()
    dialog = page.get_by_role("dialog", name="Attempt")
    expect(dialog.get_by_label("Its file").locator("option:checked")).to_contain_text("owl.gcode")
    dialog.get_by_label("Part", exact=True).fill("owl head")
    dialog.get_by_label("Where").last.select_option("once")
    dialog.get_by_label("Height").fill("0.2")
    dialog.get_by_role("button", name="It is printing now").click()
    expect(dialog).to_have_count(0)
    banner = page.get_by_role("alert").filter(has_text="Heron now")
    expect(banner).to_contain_text("at 0.2\N{NO-BREAK SPACE}mm, layer 1", timeout=20_000)
    banner.get_by_role("button", name="Done").click()
    expect(banner).to_have_count(0)
    page.goto(demo.address)
    margin = page.get_by_role("complementary")
    expect(margin.get_by_text("Printing since")).to_be_visible()
    margin.get_by_role("button", name="How did it come out?").click()
    dialog.get_by_role("button", name="Good", exact=True).click()
    dialog.get_by_role("button", name="Write it down").click()
    expect(margin.get_by_text("Printing since")).to_have_count(0)
