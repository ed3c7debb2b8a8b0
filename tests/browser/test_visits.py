"""A service visit: read as found, without a signal too, and as left; the next one stands against it."""

from __future__ import annotations

from playwright.sync_api import Page, expect

from tests.browser.conftest import PHONE, SignIn, install

VOLTS = "L1 to L2 at the disconnect, V"


def read(page: Page, state: str, value: str) -> None:
    page.get_by_label(f"{state}, {VOLTS}", exact=True).fill(value)
    page.keyboard.press("Enter")


def test_what_is_read_on_a_visit_stands_against_what_was_read_before(open_as: SignIn) -> None:
    page = open_as("o.brisk", viewport=PHONE)
    install(page, "Bindery workshop")
    page.goto(page.url.replace("/lines", "/handover"))
    page.get_by_role("link", name="Service visits").click()
    page.get_by_label("Why you are here").fill("Heats badly")
    page.get_by_role("button", name="Begin a visit").click()
    expect(page.get_by_role("heading", name="Heats badly")).to_be_visible()
    place = page.get_by_role("listitem").filter(has=page.get_by_text("L1 to L2 at the disconnect", exact=True))
    # What is no number is said where it was typed, and is still there.
    read(page, "As found", "18x")
    expect(place.get_by_role("alert")).to_contain_text("must be a number")
    expect(page.get_by_label(f"As found, {VOLTS}", exact=True)).to_have_value("18x")
    page.context.set_offline(True)
    read(page, "As found", "180")
    expect(place).to_contain_text("outside its bounds; kept here, not sent yet")
    page.context.set_offline(False)
    expect(place).to_contain_text("Switch off and find out why")
    read(page, "As left", "243")
    expect(place).to_contain_text("35 % above the 180 V as found")
    page.get_by_label("What was done").fill("Lug tightened")
    page.get_by_role("button", name="End the visit").click()
    earlier = page.get_by_label("Earlier visits")
    expect(earlier).to_contain_text("Lug tightened")
    expect(earlier).to_contain_text("180 V")
    page.get_by_label("Why you are here").fill("A year on")
    page.get_by_role("button", name="Begin a visit").click()
    read(page, "As found", "241")
    expect(place).to_contain_text("as far as the meters can tell")
    trend = place.get_by_role("img").first
    said = trend.get_attribute("aria-label") or ""
    assert [part.split(" ")[0] for part in said.split(", ")] == ["found", "left", "found"]
    page.reload()
    expect(page.get_by_role("heading", name="A year on")).to_be_visible()
    expect(place).to_contain_text("241 V")
