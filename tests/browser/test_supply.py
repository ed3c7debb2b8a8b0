"""The station Supply: sources closed on the legs, a start changed and kept, ways out tried, trials recorded."""

from __future__ import annotations

import re

from accounts.models import User
from installs.actions import change
from installs.models import Install
from playwright.sync_api import Locator, Page, expect

from tests.browser.conftest import PHONE, SignIn, enter, install


def supply(page: Page) -> Page:
    install(page, "Museum plant")
    page.locator("[data-line]").first.wait_for()
    page.keyboard.press("5")
    expect(headline(page)).to_contain_text("It trips within 56 min")
    return page


def headline(page: Page) -> Locator:
    return page.get_by_role("region", name="The start").get_by_role("heading", level=2).first


def test_the_microwave_that_nobody_counted_and_the_way_out_kept_in_the_plan(open_as: SignIn) -> None:
    page = supply(open_as())
    feeds = page.get_by_role("group", name="What feeds it")
    expect(feeds.get_by_role("button", name="Trailer pedestal: It trips")).to_have_attribute("aria-pressed", "true")
    expect(feeds).to_contain_text("40.8 A settled, 10.8 A too many")
    way = page.get_by_role("region", name="Ways out").locator("div", has_text="Leave microwave off.")
    way.get_by_role("button", name="Try it").click()
    expect(headline(page)).to_have_text(re.compile("^It starts"))
    expect(headline(page)).to_contain_text("tried on paper")
    expect(page.get_by_text("Dashed: the run before.")).to_be_visible()
    # Tried only: the plan is what it was.
    page.get_by_role("button", name="Back to the plan").click()
    expect(headline(page)).to_contain_text("It trips")
    way.get_by_role("button", name="Try it").click()
    page.get_by_role("button", name="Keep it in the plan").click()
    expect(headline(page)).to_have_text("It starts")
    page.reload()
    expect(headline(page)).to_have_text("It starts")
    expect(page.get_by_role("button", name="microwave, not called")).to_be_visible()
    page.keyboard.press("Control+z")
    expect(headline(page)).to_contain_text("It trips")


def test_a_call_is_moved_and_figures_are_changed_where_they_are_read(open_as: SignIn) -> None:
    page = supply(open_as())
    page.get_by_role("button", name="Generator: It may trip").click()
    page.get_by_label("Economy").select_option(label="off")
    expect(headline(page)).to_have_text("It starts")
    enter(page, "Watts running", "2 to 3.6 kW")
    expect(page.get_by_label("Watts running")).to_have_value("2000 to 3600")
    expect(headline(page)).to_contain_text("It overloads its source")
    enter(page, "Watts running", "plenty")
    expect(page.get_by_role("alert")).to_contain_text("is no figure")
    enter(page, "Watts running", "4 kW")
    expect(headline(page)).to_have_text("It starts")
    rear = page.get_by_role("button", name="RU-2, called at 20 s")
    rear.focus()
    for _ in range(6):
        page.keyboard.press("ArrowRight")
    expect(page.get_by_role("textbox", name="Called at")).to_have_value("23")
    page.get_by_role("button", name="Leave it off").click()
    expect(page.get_by_role("button", name="RU-2, not called")).to_be_visible()
    # Six steps of a key are one change.
    page.keyboard.press("h")
    history = page.get_by_role("complementary", name="History")
    expect(history.get_by_text("RU-2 called at 23 s on GE, was 20 s")).to_have_count(1)


def test_a_device_that_sheds_the_microwave(open_as: SignIn) -> None:
    page = supply(open_as())
    page.get_by_label("Device between it and its loads").select_option(label="a device that sheds")
    expect(page.get_by_role("checkbox", name="microwave")).to_be_checked()
    expect(headline(page)).to_contain_text("It trips")
    expect(page.get_by_role("list", name="Findings")).to_contain_text("above how many A the manager sheds")
    enter(page, "Sheds above", "28 A")
    enter(page, "Sheds after", "2")
    expect(headline(page)).to_have_text("It starts")
    expect(page.get_by_role("region", name="What was looked at")).to_contain_text("microwave is shed")


def test_trials_are_offered_in_their_order_and_recorded(open_as: SignIn) -> None:
    page = open_as()
    plant = Install.objects.get(name="Museum plant")
    page = supply(page)
    trials = page.get_by_role("region", name="Trials")
    expect(trials).to_contain_text("By the figures it does not start")
    expect(trials.get_by_role("button", name="Record a trial")).to_have_count(0)
    page.get_by_role("button", name="microwave, called at 0 s").click()
    page.get_by_role("button", name="Leave it off").click()
    expect(headline(page)).to_have_text("It starts")
    # It starts on paper, and what may be asked of the pedestal is still too much for it.
    expect(trials).to_contain_text("The plan says stop: 44.4 A would be asked of Trailer pedestal")
    larger = {"sources": {"TP": {"bus_a": 50}}}
    change(User.objects.get(username="i.tarn"), plant.id, plant.revision + 1, larger)
    page.reload()
    expect(trials.get_by_role("button", name="Record a trial")).to_have_count(1)
    trials.get_by_role("button", name="Record a trial").click()
    expect(trials).to_contain_text("First: RU-1: ")
    trials.get_by_label("why it is made before that").fill("its units were proved last week")
    trials.get_by_label("Peak, A").fill("12")
    trials.get_by_label("Settled, A").fill("28")
    trials.get_by_role("button", name="Record it").click()
    expect(trials.get_by_role("alert")).to_contain_text("is below the settled current")
    # What was typed is still there.
    expect(trials.get_by_label("Settled, A")).to_have_value("28")
    trials.get_by_label("Peak, A").fill("51")
    trials.get_by_label("Settled, A").fill("28.1")
    trials.get_by_role("button", name="Record it").click()
    expect(trials).to_contain_text("peak 51 A, 48 A expected")
    expect(trials.get_by_role("button", name="Record a trial")).to_have_count(2)


def test_a_log_lies_over_the_prediction_and_the_one_before_says_what_is_gone(open_as: SignIn) -> None:
    page = supply(open_as())
    page.get_by_label("A log as a file").set_input_files("docs/examples/trailer-after.csv")
    changes = page.get_by_role("list", name="Changes in a")
    expect(changes).to_contain_text("45.0 s start: 2.0 to 14.4 A, 24 A at its peak")
    expect(changes).to_contain_text("compressor of RU-1")
    expect(page.get_by_role("img", name="What the logger saw")).to_be_visible()
    page.get_by_label("An earlier log as a file").set_input_files("docs/examples/trailer-before.csv")
    gone = page.get_by_role("list", name="What is gone of each start")
    expect(gone).to_contain_text("22 A above what ran, 58 A before: 62 % less")
    changes.get_by_role("listitem").nth(1).get_by_role("button", name="over the prediction").click()
    expect(page.get_by_text("The band is what the logger saw.")).to_be_visible()


def test_on_a_phone_and_on_a_plan_that_nothing_weak_feeds(open_as: SignIn) -> None:
    page = open_as(viewport=PHONE)
    install(page, "Ticket kiosk")
    page.goto(re.sub("/[a-z-]+$", "/supply", page.url))
    expect(page.get_by_role("heading", name="Nothing weak feeds this install")).to_be_visible()
    page.get_by_role("button", name="Add a generator").click()
    expect(page.get_by_role("button", name="Generator:")).to_have_attribute("aria-pressed", "true")
    wide = page.evaluate("document.documentElement.scrollWidth")
    assert wide <= PHONE["width"]
    page.get_by_role("button", name="Take Generator out").click()
    expect(page.get_by_role("heading", name="Nothing weak feeds this install")).to_be_visible()
