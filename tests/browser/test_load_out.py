"""Load-out on a phone: packed without a signal, kept, and said to the others when it is back."""

from __future__ import annotations

import re

from playwright.sync_api import expect
from records.models import PackingEntry

from tests.browser.conftest import PHONE, SignIn, enter, install


def test_packed_on_a_phone_without_a_signal(open_as: SignIn) -> None:
    page = open_as("o.brisk", viewport=PHONE, service_workers="allow")
    install(page, "Ticket kiosk")
    page.evaluate("() => navigator.serviceWorker.ready.then(() => undefined)")
    page.goto(f"/installs/{page.url.split('/')[4]}/load-out")
    cable = page.get_by_role("checkbox", name="30 ft 12-2 NM-B with ground")
    expect(cable).to_be_visible()
    expect(page.get_by_text("cut from 1 roll of 50 ft: 30")).to_be_visible()
    page.reload()
    expect(cable).to_be_visible()
    page.context.set_offline(True)
    page.reload()
    cable.check()
    page.get_by_label("Where 1/2 in LFNC is").select_option(label="to buy")
    expect(page.get_by_text("kept here, not sent yet")).to_have_count(2)
    page.reload()
    expect(cable).to_be_checked()
    assert PackingEntry.objects.count() == 0
    page.context.set_offline(False)
    expect(page.get_by_text("kept here, not sent yet")).to_have_count(0)
    expect(page.get_by_text("1 of ", exact=False).first).to_be_visible()
    assert sorted(PackingEntry.objects.values_list("where", flat=True)) == ["buy", "truck"]
    page.get_by_role("button", name="to buy", exact=True).click()
    expect(page.get_by_role("listitem").filter(has_text="LFNC")).to_be_visible()
    expect(cable).to_have_count(0)
    assert page.evaluate("document.documentElement.scrollWidth") <= PHONE["width"]
    # What it is for is a step away: the line on its drawing.
    page.get_by_role("button", name="everything").click()
    page.get_by_role("link", name="MS-1", exact=True).first.click()
    page.wait_for_url("**/lines?line=MS-1")


def test_prices_slack_and_the_list_as_a_text(open_as: SignIn) -> None:
    """A wrong price is named and kept; slack of one's own is counted; the list changed as text stands in the plan."""
    page = open_as()
    install(page, "Ticket kiosk")
    base = f"/installs/{page.url.split('/')[4]}/load-out"
    page.goto(base)
    page.get_by_role("button", name="Bring prices").click()
    typed = page.get_by_label("Prices", exact=True)
    typed.fill("item,price\n12-2 NM-B with ground,dear\n")
    page.get_by_role("button", name="Take it in").click()
    expect(page.get_by_role("alert")).to_contain_text("line 2, price: “dear” is no price")
    typed.fill(typed.input_value().replace("dear", "0.5"))
    page.get_by_role("button", name="Take it in").click()
    expect(page.get_by_text("Material 15.00 by your own prices")).to_be_visible()
    enter(page, "In a panel", "8")
    expect(page.get_by_role("checkbox", name="32 ft 12-2 NM-B with ground")).to_be_visible()
    expect(page.get_by_text("Material 16.00 by your own prices")).to_be_visible()
    page.goto(f"{base}?work")
    page.get_by_role("button", name="Change it as a text").click()
    lines = page.get_by_label("Tasks, a line each")
    expect(lines).to_have_value(re.compile("permit"))
    lines.fill(f"{lines.input_value()}| installer | about a while | permit | Fetch the key\n")
    page.get_by_role("button", name="Take it over").click()
    expect(page.get_by_role("alert")).to_contain_text("minutes")
    lines.fill(lines.input_value().replace("about a while", "20 min"))
    page.get_by_role("button", name="Take it over").click()
    expect(page.get_by_role("checkbox", name="Fetch the key")).to_be_visible()
    # Drawn onto another one it comes after that.
    land = page.locator("[data-task=land-MS-1]")
    to = land.bounding_box()
    grip = page.locator("[data-grip=own-1]").bounding_box()
    assert to is not None
    assert grip is not None
    page.mouse.move(grip["x"] + 5, grip["y"] + 20)
    page.mouse.down()
    page.mouse.move(to["x"] + 200, to["y"] + to["height"] / 2, steps=5)
    page.mouse.up()
    page.get_by_role("button", name="Fetch the key").click()
    expect(page.get_by_text("After Lock out, prove dead and land MS-1; Permit at hand.")).to_be_visible()
