"""Start-up on a phone, the signature, the paper, and the plan carried to another company."""

from __future__ import annotations

import json
import re
import subprocess
import sys
from pathlib import Path

from django.conf import settings
from playwright.sync_api import Page, expect

from tests.browser.conftest import PHONE, SignIn, install, part

READS = {
    "What the meter reads, Ω": "0.4", "L1 to L2 at the disconnect, V": "246.5",
    "L1 to ground at the disconnect, V": "123", "L2 to ground at the disconnect, V": "123.4",
    "L1 to L2 at the disconnect, at full call, V": "245",
    "Running current at full call, one line conductor, A": "6.2",
}  # fmt: skip


def take(page: Page, name: str, value: str) -> None:
    page.get_by_label(name, exact=True).fill(value)
    page.get_by_label(name, exact=True).press("Enter")
    expect(page.get_by_label(name, exact=True)).to_have_count(0)


def work_through(page: Page, until: str) -> None:
    """What is at hand done, one step after the other, until that text stands there."""
    now = page.locator("[aria-current=step]")
    for _ in range(40):
        expect(now.or_(page.get_by_text("Everything is done"))).to_be_visible()
        if page.get_by_text(until).count() or now.get_by_label(until, exact=True).count():
            return
        was = now.inner_text()
        field = next((name for name in READS if now.get_by_label(name, exact=True).count()), None)
        if field is not None:
            take(page, field, READS[field])
        else:
            now.get_by_role("button", name=re.compile("^(Done|It is off|It is on)$")).click()
            expect(now.filter(has_text=was.splitlines()[0])).to_have_count(0)
    raise AssertionError(f"{until} never came")


def test_from_lock_out_to_a_signed_paper_on_a_phone(open_as: SignIn, tmp_path: Path) -> None:
    page = open_as(viewport=PHONE)
    install(page, "Ticket kiosk")
    assert page.evaluate("document.documentElement.scrollWidth") <= PHONE["width"]
    expect(page.get_by_text("Capacitors hold a charge")).to_be_visible()
    # The unit's breaker waits for the panel, which is a part of its own: the path leads there and back.
    work_through(page, "L1 to L2 at the disconnect, V")
    take(page, "L1 to L2 at the disconnect, V", "246.5")
    expect(page.get_by_text("Within 187.2 to 253 V")).to_be_visible()
    take(page, "L1 to ground at the disconnect, V", "12.3")
    expect(page.get_by_text("Below 108 to 132 V")).to_be_visible()
    reading = page.get_by_role("listitem").filter(has_text="L1 to ground").last
    reading.get_by_role("button", name="Correct it").click()
    reading.get_by_label("L1 to ground at the disconnect, V").fill("123")
    reading.get_by_label("Reason of the correction").fill("a digit was dropped")
    reading.get_by_role("button", name="Correct", exact=True).click()
    expect(reading).to_contain_text("Within 108 to 132 V")
    expect(reading).to_contain_text("a digit was dropped")
    expect(reading.locator(".line-through")).to_have_text("12.3 V")
    work_through(page, "Everything is done")

    page.get_by_role("button", name="other stations").click()
    page.get_by_role("link", name="Handover").click()
    expect(page.get_by_text("27 of 27")).to_be_visible()
    page.get_by_label("What is left to do").fill("Label the disconnect")
    page.get_by_label("Who does it").fill("Odo Brisk")
    page.get_by_role("button", name="Add", exact=True).click()
    expect(page.get_by_text("Label the disconnect")).to_be_visible()
    page.get_by_role("button", name="Sign revision 1").click()
    expect(page.get_by_text("signed revision 1")).to_be_visible()

    paper = page.request.get(page.get_by_role("link", name="Print the record").get_attribute("href") or "")
    assert paper.headers["content-type"] == "application/pdf"
    assert paper.body().startswith(b"%PDF")


def test_a_plan_is_checked_by_the_command_line_and_carried_to_another_company(open_as: SignIn, tmp_path: Path) -> None:
    page = open_as()
    install(page, "Bindery workshop")
    shown = page.get_by_role("list", name="Findings").inner_text()
    page.keyboard.press("8")
    with page.expect_download() as download:
        page.get_by_role("link", name="Export the plan").click()
    file = tmp_path / download.value.suggested_filename
    download.value.save_as(file)
    command = [sys.executable, "-m", "leitung_cli.main", "check", str(file), "--json"]
    done = subprocess.run(command, capture_output=True, text=True, cwd=settings.ROOT / "core", check=False)
    assert done.returncode == 1
    assert all(finding["message"] in shown for finding in json.loads(done.stdout)["findings"])

    with page.expect_download() as download:
        page.get_by_role("link", name="All as open files").click()
    whole = tmp_path / "whole.zip"
    download.value.save_as(whole)
    page.goto("/")
    page.get_by_label("Bring in a file").set_input_files(whole)
    expect(page.get_by_role("alert")).to_contain_text("This install is here already")

    elsewhere = open_as("p.ember")
    expect(elsewhere.get_by_text("No install yet.")).to_be_visible()
    elsewhere.get_by_label("Bring in a file").set_input_files(file)
    expect(elsewhere.get_by_role("heading", name="Bindery workshop")).to_be_visible()
    expect(part(elsewhere, "breaker 15")).to_be_visible()
    assert elsewhere.get_by_role("list", name="Findings").inner_text() == shown


def test_a_file_that_is_no_plan_is_told_in_words(open_as: SignIn) -> None:
    page = open_as()
    bring = page.get_by_label("Bring in a file")
    for name, content, words in (
        ("cut.json", b'{"format": "leit', "is not readable JSON"),
        ("other.json", b'{"format": "other"}', "this is not a Leitung plan"),
        ("new.json", b'{"format": "leitung-plan", "format_version": 7}', "This release reads versions 1 to 2"),
        ("big.json", b" " * 5_000_001, "larger than 5 MB"),
    ):
        bring.set_input_files({"name": name, "mimeType": "application/json", "buffer": content})
        expect(page.get_by_role("alert")).to_contain_text(words)


def test_what_has_to_be_open_is_worked_out_from_the_whole_network(open_as: SignIn) -> None:
    """The dehumidifier keeps the air handler's joints alive: one feeder does the work of two breakers."""
    page = open_as(viewport=PHONE)
    install(page, "Museum plant")
    page.goto(page.url.rsplit("/", 1)[0] + "/start-up?line=AH-1")
    found = page.get_by_role("region", name="What has to be open")
    expect(found).to_contain_text("breaker B-FD1")
    expect(found).to_contain_text("Or: main of MP, Main panel")
    expect(found).to_contain_text("the solver finds it dead")


def test_a_reading_keeps_the_meter_in_hand_and_says_what_it_means(open_as: SignIn) -> None:
    page = open_as(viewport=PHONE)
    install(page, "Ticket kiosk")
    page.goto(f"/installs/{page.url.split('/')[4]}/start-up?part=circuits/MS-1")
    page.get_by_role("button", name="Read the volts at the open disconnect").click()
    page.get_by_label("Meter in hand").select_option(label="another meter …")
    page.get_by_label("What it is called").fill("clamp meter")
    page.get_by_label("Serial number").fill("7714")
    page.get_by_label("Calibrated on").fill("2020-02-03")
    page.get_by_role("button", name="Add it").click()
    expect(page.get_by_text("Calibrated more than a year before.")).to_be_visible()
    page.get_by_label("L1 to L2 at the disconnect, V").fill("120")
    page.get_by_label("Why is it done before what it needs").first.fill("tried by itself")
    page.get_by_role("button", name="Record", exact=True).first.click()
    expect(page.get_by_text("Half: one line is open, or lies on the neutral.")).to_be_visible()
    expect(page.get_by_text("clamp meter 7714, ± 1 % and 0.3 V, calibrated 2020-02-03")).to_be_visible()
    # The device keeps which one is in hand.
    page.reload()
    page.get_by_role("button", name="Read the volts at the open disconnect").click()
    expect(page.get_by_label("Meter in hand")).to_contain_text("clamp meter 7714")
    page.get_by_role("button", name="Something is put in for a while").click()
    page.get_by_label("What is put in").fill("Bridge R to Y1")
    page.get_by_role("button", name="Note it").click()
    expect(page.get_by_role("region", name="Put in for a while")).to_contain_text("Ines Tarn takes it out")
    page.get_by_role("button", name="It is out again").click()
    expect(page.get_by_text("Bridge R to Y1")).to_have_count(0)
