"""People: a link is made, somebody joins by it on a phone, has a code beside the password, and leaves."""

from __future__ import annotations

import time

import pyotp
from accounts.models import User
from playwright.sync_api import Page, expect

from tests.browser.conftest import PHONE, SignIn

GOOD = "seven-wet-capacitors"


def sign_in(page: Page, url: str, code: str | None = None) -> None:
    page.goto(url)
    page.get_by_label("Name").fill("p.corr")
    page.get_by_label("Password").fill(GOOD)
    page.get_by_role("button", name="Sign in").click()
    if code is not None:
        expect(page.get_by_role("alert")).to_contain_text("Type the code")
        page.get_by_label("Code").fill(code)
        page.get_by_role("button", name="Sign in").click()


def test_somebody_joins_has_a_code_and_leaves(open_as: SignIn) -> None:
    page = open_as()
    page.get_by_role("navigation", name="Places").get_by_role("link", name="People").click()
    page.get_by_label("Who joins").fill("Pia Corr")
    page.get_by_role("button", name="Make a link to join").click()
    link = page.get_by_label("Link", exact=True).input_value()
    browser = page.context.browser
    assert browser is not None
    theirs = browser.new_context(viewport=PHONE)
    phone = theirs.new_page()
    phone.goto(link)
    expect(phone.get_by_role("heading", name="Join Brae & Finch Mechanical")).to_be_visible()
    phone.get_by_label("Name to sign in with").fill("p.corr")
    phone.get_by_label("Password").fill("password1234")
    phone.get_by_role("button", name="Join").click()
    expect(phone.get_by_role("alert")).to_contain_text("too common")
    phone.get_by_label("Password").fill(GOOD)
    phone.get_by_role("button", name="Join").click()
    expect(phone.get_by_role("link", name="Pia Corr")).to_be_visible()
    assert phone.evaluate("document.documentElement.scrollWidth") <= PHONE["width"]
    # A code beside the password, and a spare one for a lost device.
    phone.get_by_role("link", name="Pia Corr").click()
    phone.get_by_label("Your password").fill(GOOD)
    phone.get_by_role("button", name="Set it up").click()
    secret = phone.locator("b.font-mono").inner_text()
    phone.get_by_label("The code").fill(pyotp.TOTP(secret).at(int(time.time())))
    phone.get_by_role("button", name="Ask for it from now on").click()
    spare = phone.get_by_role("region", name="Spare codes").locator("span").first.inner_text()
    other = browser.new_context().new_page()
    sign_in(other, link.partition("/join")[0], spare)
    expect(other.get_by_role("link", name="Pia Corr")).to_be_visible()
    # Left: both are out at once, and the link is good for nothing.
    page.reload()
    page.get_by_role("button", name="Pia Corr has left").click()
    expect(page.get_by_text("p.corr; has left")).to_be_visible()
    for out in (phone, other):
        out.goto(link.partition("/join")[0])
        expect(out.get_by_role("heading", name="Sign in")).to_be_visible()
    phone.goto(link)
    expect(phone.get_by_text("This link serves no more")).to_be_visible()
    expect(page.get_by_role("region", name="Who saw and changed what")).to_contain_text("said has left Pia Corr")
    assert not User.objects.get(username="p.corr").is_active
