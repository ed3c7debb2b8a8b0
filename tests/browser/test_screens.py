"""The other screens as people use them: the board, the alternatives, the handover, the small window."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import PHONE, SignIn, enter, install, part
from tests.core.entry.plates import PLATES, draw, raw


def test_an_alternative_is_taken_with_one_click(open_as: SignIn) -> None:
    page = open_as()
    install(page, "Ticket kiosk")
    page.keyboard.press("2")
    part(page, "breaker").click()
    least = page.get_by_role("button", name="15 A, 14 AWG")
    expect(least).to_have_attribute("aria-pressed", "false")
    least.click()
    expect(part(page, "interior 14 AWG")).to_be_visible()
    expect(part(page, "whip 14 AWG")).to_be_visible()
    expect(least).to_have_attribute("aria-pressed", "true")
    page.get_by_role("button", name="15 A, 12 AWG").click()
    expect(part(page, "interior 12 AWG")).to_be_visible()
    # What is in hand stands beside the alternatives; a choice of ours is no finding.
    findings = page.get_by_role("list", name="Findings")
    expect(findings).to_have_count(0)


def test_the_board_finds_and_says_when_it_does_not(open_as: SignIn) -> None:
    page = open_as()
    find = page.get_by_label("Find an install by name, address or serial number")
    find.fill("hollin")
    expect(page.get_by_role("listitem")).to_have_count(1)
    expect(page.get_by_role("link", name="Pattern loft")).to_contain_text("Read it off the plate")
    find.fill("nowhere")
    expect(page.get_by_text("No install has “nowhere” in its name, its address or on a plate.")).to_be_visible()


def test_an_install_needs_a_name_and_a_missing_one_is_told(open_as: SignIn) -> None:
    page = open_as()
    begin = page.get_by_role("button", name="Begin")
    expect(begin).to_be_disabled()
    page.get_by_label("Name of the new install").fill("x" * 201)
    begin.click()
    expect(page.get_by_role("alert")).to_contain_text("at most 200 characters")
    expect(page.get_by_label("Name of the new install")).to_have_value("x" * 201)
    page.goto("/installs/00000000-0000-4000-8000-000000000000/lines")
    expect(page.get_by_role("heading", name="This install cannot be shown")).to_be_visible()


def test_signing_out_ends_the_session(open_as: SignIn) -> None:
    page = open_as()
    page.get_by_role("button", name="Sign out").click()
    expect(page.get_by_role("heading", name="Sign in")).to_be_visible()
    page.goto("/")
    expect(page.get_by_role("heading", name="Sign in")).to_be_visible()


def test_a_step_is_ticked_without_a_signal_and_sent_later(open_as: SignIn) -> None:
    page = open_as("o.brisk", viewport=PHONE)
    install(page, "Ticket kiosk")
    covers = page.get_by_role("checkbox", name="Wait as the unit's label says")
    covers.wait_for()
    page.context.set_offline(True)
    covers.click()
    # With its last step a phase is behind: one line, which opens.
    page.get_by_text("all 6 done").click()
    expect(covers).to_contain_text("kept here, not sent yet")
    expect(page.get_by_text("1 change is kept here")).to_be_visible()
    page.context.set_offline(False)
    expect(covers).to_have_attribute("aria-checked", "true")
    expect(covers).to_contain_text("Odo Brisk")


def test_a_step_is_taken_back_with_its_reason(open_as: SignIn) -> None:
    page = open_as("o.brisk")
    install(page, "Ticket kiosk")
    dead = page.get_by_role("checkbox", name="Prove the meter again")
    dead.click()
    page.get_by_label("Why is it taken back").fill("meter battery was low")
    page.get_by_role("button", name="Take back").click()
    expect(dead).to_have_attribute("aria-checked", "false")
    expect(dead).to_contain_text("taken back: meter battery was low")


@pytest.mark.parametrize(("typed", "words"), [("high", "must be a number"), ("-5", "must not be below 0")])
def test_a_reading_that_is_none_is_told_and_stays(open_as: SignIn, typed: str, words: str) -> None:
    page = open_as()
    install(page, "Ticket kiosk")
    page.get_by_role("button", name="Read the volts at the open disconnect").click()
    reading = page.get_by_role("listitem").filter(has_text="L1 to L2").last
    field = page.get_by_label("L1 to L2 at the disconnect, V", exact=True)
    field.fill(typed)
    # Nothing is locked out and on yet: a reading before its turn says why.
    reading.get_by_label("Why is it done before what it needs").fill("only tried")
    field.press("Enter")
    expect(reading.get_by_role("alert")).to_contain_text(words)
    expect(field).to_have_value(typed)
    field.fill("241")
    reading.get_by_label("Why is it done before what it needs").fill("only tried")
    field.press("Enter")
    expect(reading).to_contain_text("Within 187.2 to 253 V")


def sign_without(page: Page, revision: int) -> None:
    """A signature over what is not proved, with why for each part of the work."""
    page.get_by_role("button", name="Sign without, and say why").click()
    page.get_by_label("Why PA is signed without").fill("the inspector has seen it")
    page.get_by_label("Why MS-1 is signed without").fill("comes next week")
    page.get_by_role("button", name=f"Sign revision {revision}").click()


def test_a_change_after_signing_is_said_and_signed_anew(open_as: SignIn) -> None:
    page = open_as()
    install(page, "Ticket kiosk")
    page.keyboard.press("8")
    expect(page.get_by_text("19 things are not recorded")).to_be_visible()
    sign_without(page, 1)
    expect(page.get_by_text("signed revision 1")).to_be_visible()
    page.keyboard.press("2")
    part(page, "interior").click()
    enter(page, "Length", "25")
    expect(part(page, "interior 12 AWG NM-B 25")).to_be_visible()
    page.keyboard.press("Escape")
    page.keyboard.press("8")
    expect(page.get_by_text("The plan has changed since: it is at revision 2.")).to_be_visible()
    sign_without(page, 2)
    expect(page.get_by_text("signed revision 2")).to_be_visible()


def test_an_open_item_is_closed(open_as: SignIn) -> None:
    page = open_as("o.brisk")
    install(page, "Ticket kiosk")
    page.keyboard.press("8")
    item = page.get_by_role("listitem").filter(has_text="Bushing at the panel")
    picture = {"name": "open.png", "mimeType": "image/png", "buffer": raw(draw(PLATES["outdoor"], "rows"))}
    item.locator("input[type=file]").set_input_files(picture)
    expect(item.get_by_role("img", name=re.compile("^open.png"))).to_be_visible()
    item.get_by_role("button", name="Done").click()
    expect(item).to_contain_text("done by Odo Brisk")
    expect(page.get_by_text("The crew lead signs.")).to_be_visible()


def overflow(page: Page) -> int:
    return page.evaluate("document.documentElement.scrollWidth - document.documentElement.clientWidth")


def test_every_screen_fits_a_phone_and_its_targets_a_glove(open_as: SignIn) -> None:
    page = open_as(viewport=PHONE)
    assert overflow(page) == 0
    install(page, "Ticket kiosk")
    # What is pressed for a field within a label is the label.
    small = (
        "els => els.map(e => e.closest('label') ?? e)"
        ".filter(e => e.getBoundingClientRect().height < 44 && e.offsetParent).map(e => e.outerHTML)"
    )
    places = {"1": "site", "2": "lines", "5": "supply", "6": "load-out", "7": "start-up", "8": "handover"}
    for station, address in places.items():
        if f"/{address}" not in page.url:
            # The address changes at once, the screen when its code has come.
            page.get_by_role("main").evaluate("before => before.setAttribute('data-before', '')")
            page.keyboard.press(station)
            page.wait_for_url(f"**/{address}*")
            expect(page.locator("[data-before]")).to_have_count(0)
            expect(page.get_by_text("Drawing …")).to_have_count(0)
        page.wait_for_load_state("networkidle")
        assert overflow(page) == 0, station
        if station != "2":
            assert page.locator("main button, main a, main input").evaluate_all(small) == []
