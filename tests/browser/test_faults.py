"""A case at the machine: opened in everyday words, answered by digits, undone, mended, closed."""

from __future__ import annotations

import io
import re
from pathlib import Path

from PIL import Image
from playwright.sync_api import FilePayload, expect

from tests.browser.conftest import PHONE, OpenPage, signed_in
from tests.serving import Served
from ubrex.server.words.causes import COMPLAINTS

KEPT = """async path => {
    for (let tries = 0; tries < 200; tries += 1) {
        const answers = await caches.open("ubrex-answers");
        if (await answers.match(path, { ignoreVary: true })) return true;
        await new Promise(done => setTimeout(done, 100));
    }
    return false;
}"""
"""Whether an answer is kept in this browser, after waiting for it."""


def test_a_case_is_answered_by_keys_and_each_answer_moves_its_causes(demo: Served, open_page: OpenPage) -> None:
    """Everyday words find what is seen; a digit answers, U takes it back, N passes on; closed it can be opened again."""
    page = open_page(f"{demo.address}/faults")
    signed_in(page)
    page.get_by_label("In your own words").fill("spaghetti")
    expect(page.get_by_role("button", name="The part was knocked off")).to_be_visible()
    page.get_by_role("button", name="It does not stick to the plate at all").click()
    expect(page.get_by_role("heading", name="It does not stick to the plate at all")).to_be_visible()
    causes = page.get_by_role("region", name="Causes")
    check = page.get_by_role("region", name="Next check")
    first = check.get_by_role("heading").inner_text()
    page.keyboard.press("n")
    expect(check.get_by_role("heading")).not_to_have_text(first)
    page.reload()
    expect(check.get_by_role("heading")).to_have_text(first)
    before = causes.inner_text()
    check.locator("fieldset").first.get_by_role("button").nth(1).click()
    expect(page.get_by_role("button", name=re.compile("^Take back:"))).to_have_count(1)
    expect(causes).not_to_have_text(before)
    page.keyboard.press("u")
    expect(page.get_by_text("Nothing yet.")).to_be_visible()
    page.get_by_role("button", name="Close the case").click()
    page.get_by_role("dialog").get_by_role("button", name="Close the case").click()
    expect(page.get_by_role("status")).to_contain_text("Closed.")
    page.get_by_role("button", name="Reopen").click()
    expect(check).to_be_visible()


def test_what_is_gone_is_watched_and_nothing_more_is_asked(demo: Served, open_page: OpenPage) -> None:
    """The case of the sample workshop whose remedy worked: no check, no first questions, what to do instead."""
    page = open_page(f"{demo.address}/faults/2")
    expect(page.get_by_role("status")).to_contain_text("Gone, and not proven yet")
    expect(page.get_by_role("region", name="Next check")).to_have_count(0)
    expect(page.get_by_role("heading", name="First")).to_have_count(0)


def test_what_burns_stops_everything_until_its_steps_are_done(demo: Served, open_page: OpenPage) -> None:
    """No cause, no check and no remedy before; the same page is one press away from anywhere."""
    page = open_page(demo.address)
    signed_in(page)
    page.get_by_role("link", name="Stop", exact=True).click()
    expect(page.get_by_text("Off at the switch.")).to_be_visible()
    page.goto(f"{demo.address}/faults")
    page.get_by_role("button", name="It smells burnt, or smokes").click()
    expect(page.get_by_role("heading", name="Off at the switch, now")).to_be_visible()
    expect(page.get_by_role("region", name="Causes")).to_have_count(0)
    expect(page.get_by_role("region", name="Next check")).to_have_count(0)
    page.get_by_role("button", name="All of it is done").click()
    expect(page.get_by_role("region", name="Causes")).to_be_visible()


def test_a_guide_goes_on_where_it_was_left_and_its_work_is_written_down(demo: Served, open_page: OpenPage) -> None:
    """On the phone, one button a step, the time to wait goes on over a reload; its change stands on the bench."""
    page = open_page(demo.address)
    page.clock.install()
    signed_in(page)
    page.set_viewport_size(PHONE)  # type: ignore[arg-type]
    page.goto(f"{demo.address}/setups/1/guides")
    page.get_by_label("In your own words").fill("fingers")
    page.get_by_role("button", name="Clean the plate").click()
    page.get_by_role("button", name="Wait 15 min").click()
    page.clock.fast_forward("10:00")
    page.reload()
    expect(page.get_by_role("button", name=re.compile(r"^4:5\d$"))).to_be_visible()
    page.clock.fast_forward("05:00")
    expect(page.get_by_role("button", name="Time is up: look")).to_be_visible()
    page.clock.fast_forward("01:00:01")
    page.reload()
    expect(page.get_by_role("button", name="Wait 15 min")).to_be_visible()
    for _ in range(2):
        page.get_by_role("button", name="Done", exact=True).click()
    expect(page.get_by_text("Step 3 of 5")).to_be_visible()
    page.reload()
    expect(page.get_by_text("Step 3 of 5")).to_be_visible()
    expect(page.get_by_text("Solvents: a cold plate only")).to_be_visible()
    for _ in range(3):
        page.get_by_role("button", name="Done", exact=True).click()
    page.get_by_role("button", name=re.compile("^Write it down")).click()
    expect(page.get_by_role("heading", name="Guides")).to_be_visible()
    page.goto(demo.address)
    expect(page.get_by_role("complementary").get_by_text("Clean the plate")).to_be_visible()


def test_a_case_holds_what_was_done_and_found_before_and_a_page_for_somebody_elsewhere(
    demo: Served, open_page: OpenPage
) -> None:
    """Every complaint is drawn; what did not help is said, what is unsafe holds the next job, all of it is on the page."""
    page = open_page(demo.address)
    signed_in(page)
    page.goto(f"{demo.address}/faults")
    complaints = page.get_by_role("button").filter(has=page.locator("svg"))
    expect(complaints).to_have_count(len(COMPLAINTS))
    page.get_by_label("or at a height").fill("17")
    page.get_by_role("button", name="Lines are thick here and thin there").click()
    expect(page.get_by_text("At layer 85, 17\N{NO-BREAK SPACE}mm.")).to_be_visible()
    beside = page.get_by_role("complementary")
    beside.get_by_text("Done before this case was opened").click()
    beside.get_by_role("button", name="Done, did not help: Dry it").click()
    expect(beside.get_by_text(re.compile("Dry it.*: no change"))).to_be_visible()
    beside.get_by_label("Found on the way, not the cause").fill("plug")
    page.get_by_role("option", name="A plug is brown or loose").click()
    expect(beside.get_by_text("It holds the next job.")).to_be_visible()
    picture = io.BytesIO()
    Image.new("RGB", (400, 300), "grey").save(picture, "PNG")
    photo = FilePayload(name="gear.png", mimeType="image/png", buffer=picture.getvalue())
    beside.get_by_label("Add a photo").set_input_files(photo)
    expect(beside.get_by_role("img", name="Photo by Ines")).to_be_visible()
    beside.get_by_role("link", name="A page for somebody elsewhere").click()
    expect(page.get_by_role("heading", name="What is seen")).to_be_visible()
    expect(page.get_by_text("At layer 85").or_(page.get_by_text("layer 85, 17"))).to_be_visible()
    with page.expect_download() as kept:
        page.keyboard.press("s")
    text = Path(kept.value.path()).read_text()
    assert "a plug is brown" in text
    assert "data:image/jpeg;base64," in text
    page.goto(f"{demo.address}/setups/1/pre-flight")
    expect(page.get_by_text("A plug is brown or loose")).to_be_visible()


def test_without_a_network_bench_case_guides_and_stop_page_open_and_answers_wait_in_their_order(
    demo: Served, open_page: OpenPage
) -> None:
    """After a reload: what was last seen, and since when; a note and an answer go when the workshop answers again."""
    page = open_page(demo.address, keeps=True)
    signed_in(page)
    for path in ("/api/v1/session", "/api/v1/faults/3", "/api/v1/setups/1/guides", "/api/v1/setups/1/bench"):
        assert page.evaluate(KEPT, path), path
    page.context.set_offline(True)
    page.reload()
    expect(page.get_by_role("contentinfo").get_by_role("status")).to_contain_text("Shown as it was at")
    expect(page.get_by_role("heading", name="Calibration chain")).to_be_visible()
    page.keyboard.press("n")
    page.get_by_label("What is to be remembered").fill("Written in the shed.")
    page.get_by_label("What is to be remembered").press("Enter")
    expect(page.get_by_role("dialog")).to_have_count(0)
    page.goto(f"{demo.address}/faults/3")
    check = page.get_by_role("region", name="Next check")
    first = check.get_by_role("heading").first.inner_text()
    given = page.get_by_role("button", name=re.compile("^Take back"))
    before = given.count()
    page.keyboard.press("1")
    expect(check.get_by_role("heading").first).not_to_have_text(first)
    expect(page.get_by_role("contentinfo")).to_contain_text("2 entries not sent")
    page.goto(f"{demo.address}/setups/1/guides?guide=blockage")
    expect(page.get_by_role("heading", name="Free a clogged nozzle")).to_be_visible()
    page.goto(f"{demo.address}/stop")
    expect(page.get_by_role("heading", name="Stop first")).to_be_visible()
    page.context.set_offline(False)
    page.goto(f"{demo.address}/faults/3")
    expect(page.get_by_role("contentinfo")).not_to_contain_text("not sent")
    expect(given).to_have_count(before + 1)
    page.goto(demo.address)
    expect(page.get_by_text("Written in the shed.")).to_have_count(1)


def test_the_stop_page_is_there_for_whoever_stands_there(shed: str, open_page: OpenPage) -> None:
    """On a phone that is not signed in: one tap from the sign-in."""
    page = open_page(shed, viewport=PHONE)
    expect(page.get_by_label("Passphrase of this workshop")).to_be_visible()
    page.get_by_role("link", name="Stop").click()
    page.get_by_role("button", name="The heat runs away, or jumps").click()
    expect(page.get_by_role("heading", name="Heaters off", exact=True)).to_be_visible()
