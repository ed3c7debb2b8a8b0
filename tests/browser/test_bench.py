"""The bench in the browser: pressed, measured, slipped, explained, a pattern placed; at a desk and in the hand."""

from __future__ import annotations

import re
import subprocess
from collections.abc import Iterator

import pytest
from playwright.sync_api import Page, expect

from launch.server import worker_command
from tests.browser.conftest import PATIENCE_MS, PHONE, SignIn, install
from tests.server.conftest import worker_environment


@pytest.fixture
def worker(open_as: SignIn) -> Iterator[None]:
    """The real worker, on the tests' database."""
    process = subprocess.Popen(worker_command(), env=worker_environment(), stderr=subprocess.DEVNULL)
    yield
    process.terminate()
    process.wait()


def bench(page: Page, query: str = "") -> str:
    """The bench of the museum; its install."""
    install(page, "Museum plant")
    page.wait_for_url(re.compile("/installs/"))
    found = re.search(r"/installs/([^/]+)/", page.url)
    assert found is not None
    page.goto(f"/installs/{found[1]}/bench{query}")
    expect(page.get_by_role("navigation", name="Control systems")).to_be_visible()
    return found[1]


def call(page: Page, name: str) -> None:
    page.get_by_role("group", name="Call", exact=True).get_by_role("button", name=name, exact=True).click()


def load(page: Page, name: str):  # type: ignore[no-untyped-def]
    return page.locator(f'[data-load="{name}"] [data-on]').first


def test_press_cool_and_see_at_once_why(open_as: SignIn) -> None:
    page = open_as()
    bench(page)
    expect(load(page, "AH-1.FR")).to_have_attribute("data-on", "false")
    call(page, "cool")
    expect(load(page, "AH-1.FR")).to_have_attribute("data-on", "true")
    expect(page.get_by_text("blower of AH-1").first).to_be_visible()
    load(page, "AH-1.FR").click()
    expect(page.get_by_text("Fan relay of AH-1 is on.")).to_be_visible()
    expect(page.get_by_text("then cool, TS-1.")).to_be_visible()
    # The very gap in the line is pressed as well: the call ends, and the fan with it.
    page.locator('[data-contact="TS-1.KGC"]').first.click()
    expect(load(page, "AH-1.FR")).to_have_attribute("data-on", "false")


def test_the_pumps_fault_does_not_stop_the_dehumidifier_and_is_said(open_as: SignIn) -> None:
    page = open_as()
    bench(page)
    call(page, "dehumidify")
    expect(load(page, "DH-1.COMP")).to_have_attribute("data-on", "true")
    page.get_by_role("group", name="Let happen").get_by_role("button", name="pump fault").click()
    expect(page.get_by_text("The compressor of DH-1 goes on: the safety contact does nothing.")).to_be_visible()
    page.get_by_role("tab", name="What stops what").click()
    page.get_by_role("button", name="pump fault and dehumidifier: goes on, asked for").click()
    expect(page.get_by_text("pump fault: dehumidifier must stop")).to_be_visible()
    page.get_by_role("region", name="The cell").get_by_role("button", name="It need not stop here").click()
    expect(page.get_by_text("Revision 2")).to_be_visible()
    expect(page.get_by_role("list", name="Findings")).to_contain_text("does not have to stop the dehumidifier")


def test_the_meter_reads_between_two_terminals(open_as: SignIn) -> None:
    page = open_as()
    bench(page)
    meter = page.get_by_role("status", name="Meter")
    page.locator('[data-terminal="AH-1.ctl.R"]').first.click()
    expect(meter).to_contain_text("First lead on AH-1 R")
    page.locator('[data-terminal="AH-1.ctl.W1"]').first.click()
    expect(meter).to_contain_text("23.9 V AC")
    call(page, "heat")
    expect(meter).to_contain_text(re.compile(r"0\.\d V AC"))
    page.locator('[data-terminal="DH-1.ctl.R"]').first.click()
    expect(meter).to_contain_text("floating")
    page.keyboard.press("x")
    expect(page.get_by_role("region", name="Cable TC-1")).to_be_visible()


def test_a_mistake_is_worked_out_by_the_worker_shown_and_diagnosed(open_as: SignIn, worker: None) -> None:
    page = open_as()
    bench(page, "?system=UH-1&sheet=slips")
    expect(page.get_by_role("heading", name=re.compile("ways to slip"))).to_be_visible(timeout=4 * PATIENCE_MS)
    page.get_by_role("button", name=re.compile("something does not run")).click()
    page.get_by_role("button", name="white of TC-3 is open. on the bench").click()
    expect(page.get_by_text("With a mistake in it: white of TC-3 is open.")).to_be_visible()
    expect(load(page, "UH-1.HR")).to_have_attribute("data-on", "false")
    page.get_by_role("button", name="Back to the plan as it is").click()
    page.get_by_role("tab", name="If someone slips").click()
    page.get_by_role("button", name="A reading looked wrong").click()
    page.get_by_role("combobox", name="With", exact=True).select_option(label="heat called")
    page.get_by_role("combobox", name="Read or looked at").select_option(label="UH-1 HEAT")
    page.get_by_role("button", name="It does not run").click()
    explains = page.get_by_role("region", name="What explains it")
    expect(explains).to_contain_text("the case of D-UH1 is live")
    where = page.get_by_role("combobox", name="Read or looked at")
    page.get_by_role("combobox", name="With", exact=True).select_option(label="heat called")
    where.select_option(label="UH-1 W to UH-1 R")
    page.get_by_label("Volts").fill("lots")
    expect(page.get_by_role("alert")).to_contain_text("“lots” is no reading. Type a number from 0 to 1000.")
    page.get_by_label("Volts").fill("23.7")
    page.keyboard.press("Enter")
    expect(explains.get_by_role("listitem").first).to_contain_text("TC-3 is open")


def test_a_pattern_is_placed_and_taken_back(open_as: SignIn) -> None:
    page = open_as()
    bench(page, "?system=AH-1&sheet=patterns")
    page.get_by_role("button", name=re.compile("Humidity by the thermostat")).click()
    expect(page.get_by_text("No conductor is spare in TC-1.")).to_be_visible()
    page.get_by_role("button", name=re.compile("^Fan on-delay relay in G")).click()
    page.get_by_label("Each new cable, ft").fill("far")
    expect(page.get_by_role("alert")).to_contain_text("Cable length: “far” will not do.")
    page.get_by_label("Each new cable, ft").fill("8")
    page.get_by_role("button", name="Put it in").click()
    expect(page.get_by_text("Revision 2")).to_be_visible()
    call(page, "fan")
    time = page.get_by_role("group", name="Time")
    expect(time).to_contain_text("next at 30 s")
    expect(load(page, "AH-1.FR")).to_have_attribute("data-on", "false")
    time.get_by_role("button", name="One step on").click()
    time.get_by_role("button", name="One step on").click()
    expect(load(page, "AH-1.FR")).to_have_attribute("data-on", "true")
    page.keyboard.press("Control+z")
    expect(page.get_by_text("Revision 3")).to_be_visible()


def test_in_the_hand_a_call_is_pressed_and_the_page_stays_in_its_width(open_as: SignIn) -> None:
    page = open_as(viewport=PHONE, has_touch=True)
    bench(page)
    page.get_by_role("group", name="Call", exact=True).get_by_role("button", name="heat", exact=True).tap()
    expect(page.get_by_text("heater of AH-1").first).to_be_visible()
    assert page.evaluate("document.documentElement.scrollWidth") <= PHONE["width"]
    small = (
        page.get_by_role("group", name="Call", exact=True)
        .get_by_role("button")
        .evaluate_all("all => all.filter(e => e.getBoundingClientRect().height < 44).length")
    )
    assert small == 0


def test_a_reader_presses_and_changes_nothing(open_as: SignIn) -> None:
    page = open_as("w.lune")
    bench(page)
    call(page, "heat")
    expect(load(page, "AH-1.HEAT")).to_have_attribute("data-on", "true")
    page.get_by_role("tab", name="Add an accessory").click()
    page.get_by_role("button", name=re.compile("^Fan on-delay relay in G")).click()
    expect(page.get_by_text("every conductor landed")).to_be_visible()
    expect(page.get_by_role("button", name="Put it in")).to_have_count(0)
    page.get_by_role("tab", name="If someone slips").click()
    expect(page.get_by_text("This is for: lead or crew.")).to_be_visible()
