"""The crew's week: named, planned, put elsewhere by field and by hand; the work list changed and ticked."""

from __future__ import annotations

import re

import pytest
from accounts.models import User
from playwright.sync_api import Locator, Page, expect
from records.models import WorkEntry
from weeks import actions
from weeks.models import CrewWeek

from tests.browser.conftest import PHONE, SignIn, enter, install

WEEK = "/week?monday=2026-12-07"


def carried_out(page: Page) -> None:
    """The worker's part, once the page has asked for it."""
    expect(page.get_by_role("status").filter(has_text="looking for")).to_be_visible()
    week = CrewWeek.objects.get(monday="2026-12-07")
    actions.carry_out(week.id, User.objects.get(username="i.tarn"), week.revision)
    expect(page.get_by_role("status").filter(has_text="looking for")).to_have_count(0)


def tasks(page: Page, words: str) -> Locator:
    return page.get_by_role("group", name="The week").get_by_role("button", name=words)


def test_a_week_is_named_planned_and_put_elsewhere(open_as: SignIn, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(actions, "LIMIT_S", 15.0)
    CrewWeek.objects.all().delete()
    page = open_as()
    page.get_by_role("navigation", name="Places").get_by_role("link", name="Week").click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("Week of")
    page.goto(WEEK)
    for name, skill in (("Odo Brisk", "licensed"), ("Wyn Lune", "installer")):
        page.get_by_label("Name", exact=True).fill(name)
        page.get_by_label("Skill", exact=True).select_option(skill)
        page.get_by_role("button", name="Add to the crew").click()
        expect(page.get_by_role("listitem").filter(has_text=name)).to_be_visible()
    for skill in ("Wyn Lune: apprentice", "Odo Brisk: installer"):
        page.get_by_role("checkbox", name=skill).click()
        expect(page.get_by_role("checkbox", name=skill)).to_be_checked()
    page.get_by_label("Add an install").select_option(label="Ticket kiosk")
    carried_out(page)
    expect(page.get_by_text("2 visits, fewer cannot be")).to_be_visible()
    # Why it stands there, and another place by the fields.
    tasks(page, "Lock out, prove dead and land MS-1").first.click()
    about = page.get_by_role("complementary", name="About this task")
    expect(about).to_contain_text("After MS-1")
    about.get_by_label("On").select_option(label="Thursday")
    about.get_by_label("At").fill("10:00")
    about.get_by_role("button", name="Hold it").click()
    carried_out(page)
    expect(about).to_contain_text("Thursday, 10:00 to")
    expect(about).to_contain_text("Somebody put it here")
    about.get_by_role("button", name="Let it go").click()
    carried_out(page)
    page.get_by_role("button", name="Go by this plan").click()
    expect(page.get_by_text("The crew goes by it.")).to_be_visible()
    # Rain on Monday: what is mounted outdoors lies on another day.
    rough = tasks(page, "set the unit")
    expect(rough.first).to_have_accessible_name(re.compile("2026-12-07"))
    monday = page.get_by_role("group", name="Wet days").get_by_role("checkbox").first
    monday.click()
    carried_out(page)
    expect(rough.first).to_have_accessible_name(re.compile("2026-12-08"))
    monday.click()
    carried_out(page)
    # Drawn along the days to Wednesday it is held there.
    task = tasks(page, "Start up MS-1").first
    box = task.locator("rect").bounding_box()
    assert box is not None
    column = page.get_by_role("group", name="The week").evaluate("(svg) => (svg.clientWidth - 116) / 5")
    page.mouse.move(box["x"] + 3, box["y"] + 14)
    page.mouse.down()
    page.mouse.move(box["x"] + 3 + 2 * column, box["y"] + 14, steps=6)
    page.mouse.up()
    expect(page.get_by_role("status").filter(has_text="looking for")).to_be_visible()
    (held,) = CrewWeek.objects.get().wishes["held"]
    assert held["day"] == "2026-12-09"
    carried_out(page)
    expect(page.get_by_text("stand elsewhere than agreed")).to_be_visible()
    page.set_viewport_size(PHONE)
    page.get_by_role("group", name="Day").get_by_role("button", name="Wed").click()
    expect(tasks(page, "Start up MS-1").first).to_be_visible()
    assert page.evaluate("document.documentElement.scrollWidth") <= PHONE["width"]


def test_who_does_what_is_changed_and_ticked_without_a_signal(open_as: SignIn) -> None:
    page = open_as(viewport=PHONE, service_workers="allow")
    install(page, "Ticket kiosk")
    page.evaluate("() => navigator.serviceWorker.ready.then(() => undefined)")
    page.goto(f"/installs/{page.url.split('/')[4]}/load-out?work")
    row = page.get_by_role("listitem").filter(has_text="set the unit")
    page.get_by_role("button", name="set the unit").click()
    enter(page, "How long", "1 to 1.5 h")
    expect(row).to_contain_text("60 to 90 min")
    expect(row).to_contain_text("Entered here.")
    page.get_by_label("A task of its own").fill("Crane for an hour")
    page.get_by_role("button", name="Add it").click()
    expect(page.get_by_role("checkbox", name="Crane for an hour")).to_be_visible()
    page.reload()
    expect(page.get_by_role("checkbox", name="Crane for an hour")).to_be_visible()
    page.context.set_offline(True)
    page.get_by_role("checkbox", name="Crane for an hour").check()
    expect(page.get_by_text("kept here, not sent yet")).to_have_count(1)
    page.context.set_offline(False)
    expect(page.get_by_text("kept here, not sent yet")).to_have_count(0)
    expect(page.get_by_text("1 of ", exact=False).first).to_be_visible()
    assert list(WorkEntry.objects.values_list("key", "state")) == [("own-1", "done")]
    assert page.evaluate("document.documentElement.scrollWidth") <= PHONE["width"]
