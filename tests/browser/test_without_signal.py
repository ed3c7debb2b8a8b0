"""Start-up where there is no signal, or a bad one: everything entered arrives once, in order, and nothing is lost."""

from __future__ import annotations

import random
from typing import Any

from photos.models import Photo
from playwright.sync_api import Error, Page, Request, Route, expect
from records.models import Reading, StepEntry

from tests.browser.conftest import PHONE, SignIn, install
from tests.browser.test_start_up import work_through
from tests.core.entry.plates import PLATES, draw, raw

LATE = 120_000


def at_start_up(page: Page) -> None:
    install(page, "Ticket kiosk")
    expect(page.locator("[aria-current=step]")).to_be_visible()


def photo(page: Page) -> None:
    picture = {"name": "ends.png", "mimeType": "image/png", "buffer": raw(draw(PLATES["outdoor"], "rows"))}
    page.locator("[aria-current=step] input[type=file]").set_input_files(picture)


def arrived_once_and_in_order() -> None:
    """Every step of the kiosk, as the plan has them in a row; one entry for each, one reading for each point."""
    ticked = list(StepEntry.objects.order_by("at", "id").values_list("key", flat=True))
    assert len(ticked) == len(set(ticked)) == 25
    assert ticked.index("MS-1.torque") < ticked.index("sources/PA.main-on") < ticked.index("MS-1.breaker-on")
    assert not StepEntry.objects.exclude(passed=[]).exists()
    read = list(Reading.objects.values_list("key", flat=True))
    assert len(read) == len(set(read)) == 5
    assert not StepEntry.objects.filter(noted_at=None).exclude(author__username="o.brisk").exists()


def test_a_whole_start_up_in_flight_mode_arrives_when_the_signal_is_back(open_as: SignIn) -> None:
    page = open_as(viewport=PHONE, service_workers="allow")
    at_start_up(page)
    page.evaluate("() => navigator.serviceWorker.ready.then(() => undefined)")
    page.reload()
    page.get_by_role("button", name="Keep it on this device").click()
    expect(page.get_by_role("status").filter(has_text="Kept")).to_be_visible()
    context, address = page.context, page.url
    context.set_offline(True)
    page.reload()
    expect(page.get_by_text("No signal.")).to_be_visible()
    photo(page)
    expect(page.get_by_text("1 photo kept here, not sent yet")).to_be_visible()
    work_through(page, "L1 to ground at the disconnect, V")
    # The phone is put away in the middle; another tab finds what was entered.
    page.close()
    page = context.new_page()
    page.goto(address)
    work_through(page, "Everything is done")
    before = StepEntry.objects.count()
    context.set_offline(False)
    expect(page.get_by_text("not sent yet")).to_have_count(0, timeout=LATE)
    expect(page.get_by_text("No connection.")).to_have_count(0, timeout=LATE)
    assert before == 11  # what the demo begins with
    arrived_once_and_in_order()
    assert Photo.objects.filter(about="steps/MS-1.capacitors").count() == 1


class BadLink:
    """A link that drops requests, drops answers, doubles and delays: by a fixed course of the dice."""

    def __init__(self) -> None:
        self.dice = random.Random(14)

    def __call__(self, route: Route, request: Request) -> None:
        if request.method != "POST":
            route.fallback()
            return
        cast: Any = self.dice.random()
        try:
            if cast < 0.2:
                route.abort()
            elif cast < 0.4:
                route.fetch()
                route.abort()
            elif cast < 0.6:
                route.fetch()
                route.fulfill(response=route.fetch())
            else:
                route.continue_()
        except Error:
            pass  # the page went away meanwhile


def test_over_a_bad_link_and_three_closed_pages_each_entry_arrives_once(open_as: SignIn) -> None:
    page = open_as(viewport=PHONE)
    at_start_up(page)
    context, address = page.context, page.url
    context.route("**/api/installs/**", BadLink())
    for until in ("Grounding conductor continuous", "The 15 A breaker on", "L1 to ground at the disconnect, V"):
        photo(page)
        work_through(page, until)
        page.close()
        page = context.new_page()
        page.goto(address)
    work_through(page, "Everything is done")
    expect(page.get_by_text("not sent yet")).to_have_count(0, timeout=LATE)
    expect(page.get_by_text("kept here")).to_have_count(0, timeout=LATE)
    arrived_once_and_in_order()


def test_two_tabs_lose_nothing_of_each_other(open_as: SignIn) -> None:
    one = open_as()
    at_start_up(one)
    two = one.context.new_page()
    two.goto(one.url)
    expect(two.locator("[aria-current=step]")).to_be_visible()
    one.context.set_offline(True)
    one.locator("[aria-current=step]").get_by_role("button", name="Done").click()
    # The other tab has it too, and goes on from there.
    two.get_by_role("checkbox", name="Tighten every terminal").click()
    one.context.set_offline(False)
    for page in (one, two):
        expect(page.get_by_role("checkbox", name="Tighten every terminal")).to_contain_text("Ines Tarn", timeout=LATE)
    keys = list(StepEntry.objects.order_by("at").values_list("key", flat=True))[11:]
    assert keys == ["MS-1.capacitors", "MS-1.torque"]


def test_two_people_see_each_others_entries(open_as: SignIn) -> None:
    one, two = open_as(viewport=PHONE), open_as("o.brisk", viewport=PHONE)
    at_start_up(one)
    at_start_up(two)
    at_hand = two.locator("[aria-current=step]")
    before = at_hand.inner_text()
    one.locator("[aria-current=step]").get_by_role("button", name="Done").click()
    expect(at_hand).not_to_have_text(before, timeout=LATE, use_inner_text=True)
    assert at_hand.inner_text() == one.locator("[aria-current=step]").inner_text()
