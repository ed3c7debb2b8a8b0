"""The goal of start-up: all of the vault from a phone in flight mode; what comes back is whole, in order, once."""

from __future__ import annotations

import re
from collections import Counter

from accounts.models import User
from installs.actions import create
from installs.models import Install
from installs.results import brief_at
from leitung_core.commissioning.judge import OPEN_OHMS
from leitung_core.commissioning.steps import StartUp
from leitung_core.result.progress import done_steps, not_proved
from photos.models import Photo
from playwright.sync_api import Locator, Page, expect
from records.models import LandingEntry, Reading, SettingEntry, StepEntry, TestEntry
from records.standing import recorded

from tests.browser.conftest import PHONE, SignIn
from tests.browser.test_without_signal import LATE, photo
from tests.core.vault import vault

PHOTOS = 20
CLOSED_AFTER = (40, 90, 140)
DONE, STOPPED = re.compile("^(Done|It is off|It is on)$"), re.compile(r"^(All \d+|The .*) stopped$")


def values_of(startup: StartUp) -> dict[tuple[str, str], str | None]:
    """What the meter shows at each point, by its field's name and where its first lead goes; None: no reading."""
    shown: dict[tuple[str, str], str | None] = {}
    for point in startup.readings:
        expected = point.expected if point.expected is not None else 43.0
        device, _, terminal = point.terminal_from.rpartition(".")
        at = f"{terminal} at {device.partition('.')[0]}"
        shown[f"{point.text}, {point.unit}", at] = None if expected >= OPEN_OHMS else f"{expected:g}"
    return shown


def land(page: Page) -> None:
    """Every terminal of the device whose sheet is open."""
    box, on = (
        page.get_by_role("checkbox", name=re.compile("^Landed and tugged")),
        page.get_by_role("button", name="Next"),
    )
    while True:
        if box.is_enabled() and not box.is_checked():
            box.check()
        if on.is_disabled():
            return
        on.click()


def one_entry(page: Page, now: Locator, shown: dict[tuple[str, str], str | None]) -> None:
    """What is at hand done: read, set, seen to stop, landed, or ticked."""
    fields = now.locator("input[aria-label]").evaluate_all("fields => fields.map(field => field.ariaLabel)")
    field = next((name for name in fields if any(name == known for known, _ in shown)), None)
    sheet = now.locator("a[href*='sheet?device=']").filter(
        has_not=page.get_by_text(re.compile(r"^(\d+) of \1 ticked$"))
    )
    if field is not None:
        box = page.get_by_label(field, exact=True)
        drawn = now.get_by_role("listitem").filter(has=box).get_by_role("img", name=re.compile("lead|Clamp|probe"))
        leads = drawn.first
        value = next(
            v for (name, at), v in shown.items() if name == field and f" {at}" in leads.get_attribute("aria-label")
        )
        if value is None:
            now.get_by_role("button", name="OL, no reading").click()
        else:
            box.fill(value)
            box.press("Enter")
    elif any(name.startswith("What the meter reads") for name in fields):
        now.get_by_label(re.compile("^What the meter reads")).fill("0.2")
        now.get_by_label(re.compile("^What the meter reads")).press("Enter")
    elif sheet.count():
        back = page.url
        sheet.first.click()
        land(page)
        page.goto(back)
    elif now.get_by_role("button", name=DONE).count():
        now.get_by_role("button", name=DONE).click()
    elif now.get_by_role("button", name=STOPPED).count():
        now.get_by_role("button", name=STOPPED).click()
    else:
        now.get_by_role("checkbox", checked=False, disabled=False).last.click()


def test_the_whole_vault_in_flight_mode(open_as: SignIn) -> None:
    page = open_as(viewport=PHONE, service_workers="allow")
    install = create(User.objects.get(username="i.tarn"), vault(), "Install begun").install
    startup = brief_at(install, 1).start_up
    page.goto(f"/installs/{install.id}/start-up")
    page.evaluate("() => navigator.serviceWorker.ready.then(() => undefined)")
    page.reload()
    page.get_by_role("button", name="Keep it on this device").click()
    expect(page.get_by_role("status").filter(has_text="Kept")).to_be_visible(timeout=LATE)
    context, address, shown = page.context, page.url, values_of(startup)
    before = Photo.objects.count()
    context.set_offline(True)
    page.reload()
    for number in range(400):
        now, over = page.locator("[aria-current=step]"), page.get_by_text("Everything is done.")
        expect(now.or_(over)).to_be_visible()
        if over.is_visible():
            break
        if number < PHOTOS:
            photo(page)
        was = now.inner_text()
        one_entry(page, now, shown)
        if number in CLOSED_AFTER:
            page.close()
            page = context.new_page()
            page.goto(address)
        else:
            expect(now.filter(has_text=re.compile(f"^{re.escape(was)}$"))).to_have_count(0)
    expect(over).to_be_visible()
    assert StepEntry.objects.filter(install=install).count() == 0
    context.set_offline(False)
    expect(page.get_by_text("Sending what was kept here")).to_be_visible(timeout=LATE)
    expect(page.get_by_text("Sending what was kept here")).to_have_count(0, timeout=LATE)
    ticked = sum(not step.proved_by_records for step in startup.steps)
    for _ in range(LATE // 200):
        if Photo.objects.count() - before >= PHOTOS and StepEntry.objects.filter(install=install).count() >= ticked:
            break
        page.wait_for_timeout(200)
    arrived(Install.objects.get(id=install.id), startup)
    assert Photo.objects.count() - before == PHOTOS


def arrived(install: Install, startup: StartUp) -> None:
    """All that the start-up asks for, each once, each after what it needs; nothing passed over, nothing left."""
    kept = [StepEntry, Reading, TestEntry, SettingEntry, LandingEntry]
    entries = sorted(
        ((entry.at, entry.key) for model in kept for entry in model.objects.filter(install=install)),
        key=lambda entry: entry[0],
    )
    assert [key for key, count in Counter(key for _, key in entries).items() if count > 1] == []
    wanted = {step.key for step in startup.steps if not step.proved_by_records}
    wanted |= {row.key for row in (*startup.readings, *startup.tests, *startup.set_up)}
    wanted |= {key for step in startup.steps for key in step.landings}
    assert {key for _, key in entries} == wanted
    assert not any(model.objects.exclude(passed=[]).exists() for model in (StepEntry, Reading, TestEntry))
    place = {key: number for number, (_, key) in enumerate(entries)}
    by_key = startup.by_key()
    for step in startup.steps:
        last_needed = max((place[need] for need in step.needs if not by_key[need].proved_by_records), default=-1)
        if not step.proved_by_records:
            assert place[step.key] > last_needed, step.key
    standing = recorded(install, startup)
    assert done_steps(startup, standing) == {step.key for step in startup.steps}
    assert not_proved(startup, standing) == []
