"""Load-out on a phone: packed without a signal, kept, and said to the others when it is back."""

from __future__ import annotations

from playwright.sync_api import expect
from records.models import PackingEntry

from tests.browser.conftest import PHONE, SignIn, install


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
