"""Make docs/screenshots again: every main view, from the demo data, always in the same way."""

from __future__ import annotations

import sys
from collections.abc import Callable
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parent.parent))

from scripts.stage import ROOT, database, server, set_the_stage

set_the_stage("leitung_screenshots")

from accounts.models import User  # noqa: E402
from playwright.sync_api import Browser, Page, sync_playwright  # noqa: E402
from upkeep.demo import PASSWORD  # noqa: E402
from weeks import actions  # noqa: E402
from weeks.models import CrewWeek  # noqa: E402

from tests.browser.conftest import CHROMIUM, DESK, PHONE, enter, install  # noqa: E402
from tests.browser.test_start_up import work_through  # noqa: E402

FOLDER = ROOT / "docs" / "screenshots"


def window(browser: Browser, base: str, viewport: dict[str, int], username: str | None = "i.tarn") -> Page:
    page = browser.new_context(base_url=base, viewport=viewport, locale="en-US").new_page()
    page.goto("/")
    if username:
        page.get_by_label("Name").fill(username)
        page.get_by_label("Password").fill(PASSWORD)
        page.get_by_role("button", name="Sign in").click()
        page.get_by_role("heading", name="install").wait_for()
    return page


def shoot(page: Page, name: str) -> None:
    # The network is quiet for a while before a screen's code has drawn it.
    page.get_by_text("Drawing …").first.wait_for(state="detached")
    page.wait_for_load_state("networkidle")
    page.mouse.move(0, 0)
    page.screenshot(path=FOLDER / f"{name}.png")
    print(f"  {name}.png")


def take(page: Page, name: str, value: str) -> None:
    page.get_by_label(name).fill(value)
    page.get_by_label(name).press("Enter")
    page.get_by_label(name).wait_for(state="detached")


def views(open_window: Callable[..., Page]) -> None:
    page = open_window()
    shoot(page, "board")
    install(page, "Bindery workshop")
    shoot(page, "lines-stop")
    page.get_by_role("button", name="Make it THWN-2 in LFNC").click()
    page.get_by_role("list", name="Findings").wait_for(state="detached")

    museum(open_window())
    week(open_window())

    page.goto("/")
    install(page, "Ticket kiosk")
    work_through(page, "L1 to L2 at the disconnect, V")
    take(page, "L1 to L2 at the disconnect, V", "246.5")
    take(page, "L1 to ground at the disconnect, V", "12.3")
    page.evaluate("() => window.scrollTo(0, 0)")
    shoot(page, "start-up")
    page.keyboard.press("8")
    page.get_by_text("Not signed yet.").wait_for()
    shoot(page, "handover")

    phone = open_window(PHONE, "o.brisk")
    install(phone, "Ticket kiosk")
    phone.get_by_role("heading", name="First energising").scroll_into_view_if_needed()
    shoot(phone, "start-up-phone")
    visit(phone)
    phone.goto("/")
    install(phone, "Museum plant")
    phone.goto(phone.url.rsplit("/", 1)[0] + "/sheet?device=TS-1")
    phone.get_by_role("button", name="Next").click()
    shoot(phone, "landings-phone")
    practice(phone)


def visit(phone: Page) -> None:
    """Somebody comes back a year later."""
    phone.goto(phone.url.rsplit("/", 1)[0] + "/visits")
    for label, words in (("Why you are here", "Heats badly"), ("As found, L1 to L2 at the disconnect, V", "228"),
                         ("As left, L1 to L2 at the disconnect, V", "243")):  # fmt: skip
        phone.get_by_label(label, exact=True).fill(words)
        phone.keyboard.press("Enter")
        phone.get_by_label(label, exact=True).wait_for(state="detached")
    phone.get_by_role("img").first.scroll_into_view_if_needed()
    shoot(phone, "visit-phone")


def practice(phone: Page) -> None:
    """A fault that is looked for, after some readings."""
    phone.goto("/practice")
    phone.get_by_role("button", name="Begin").wait_for(timeout=120_000)
    phone.get_by_text("being made").first.wait_for(state="hidden", timeout=120_000)
    phone.get_by_role("button", name="Begin").click()
    for title in ("size the circuit", "Land every", "Which of these", "Find the mistake"):
        phone.get_by_role("heading", name=title).wait_for()
        if title == "Find the mistake":
            break
        for field in phone.get_by_role("textbox").all():
            field.fill("20")
        if title == "size the circuit":
            phone.get_by_role("button", name="AWG").first.click()
        phone.get_by_role("button", name="That is it").click()
        phone.get_by_role("button", name="Next round").click()
    phone.get_by_role("button", name="Look what runs").click()
    phone.get_by_role("button", name="Read volts").click()
    phone.get_by_role("button", name="Read volts").scroll_into_view_if_needed()
    shoot(phone, "practice-phone")


def week(page: Page) -> None:
    """Next week as the crew has it, planned, and why a task stands where it stands."""
    found = CrewWeek.objects.get()
    page.goto(f"/week?monday={found.monday.isoformat()}")
    page.get_by_role("button", name="Plan the week").click()
    page.get_by_role("status").filter(has_text="looking for").wait_for()
    found.refresh_from_db()
    actions.carry_out(found.id, User.objects.get(username="i.tarn"), found.revision)
    page.get_by_role("button", name="Go by this plan").click()
    page.get_by_text("The crew goes by it.").wait_for()
    # By keyboard: a task of ten minutes is as narrow as its time, and its neighbour may lie over it.
    page.get_by_role("group", name="The week").get_by_role("button", name="Power off").first.press("Enter")
    shoot(page, "week")


def museum(page: Page) -> None:
    """Many circuits: lines, a panel, does it suit, the site, the schedule; and one line without an install."""
    install(page, "Museum plant")
    page.get_by_role("button", name="Open line UH-1").wait_for()
    landings(page)
    bench(page)
    page.keyboard.press("p")
    page.get_by_role("group", name="Main panel").wait_for()
    shoot(page, "panel")
    page.keyboard.press("d")
    page.get_by_role("region", name="Van bay", exact=True).wait_for()
    shoot(page, "suit")
    page.get_by_role("link", name="Supply").click()
    page.get_by_role("heading", name="It trips").wait_for()
    page.get_by_role("button", name="Try it").first.wait_for()
    shoot(page, "supply")
    page.get_by_role("link", name="Load-out").click()
    page.get_by_text("on the truck").first.wait_for()
    shoot(page, "load-out")
    page.get_by_role("link", name="Site").click()
    page.get_by_role("heading", name="What feeds it").wait_for()
    page.get_by_role("heading", name="Edition").wait_for()
    shoot(page, "site")
    page.goto("/size")
    enter(page, "Supply volts", "240")
    page.get_by_label("Supply phases").first.select_option("single phase")
    enter(page, "Volts to ground", "120")
    enter(page, "Plate volts", "240")
    enter(page, "Heat, watts", "5000")
    enter(page, "Heat, rated volts", "240")
    page.get_by_role("heading", name="Carry 26.04 A").wait_for()
    shoot(page, "quick-size")


def landings(page: Page) -> None:
    """A crossing found."""
    page.get_by_role("link", name="Landings").click()
    page.get_by_role("button", name="IC-1").click()
    page.get_by_role("button", name="Swap black and red at IU-1").wait_for()
    shoot(page, "landings")


def bench(page: Page) -> None:
    """The vault under the hand: humidity called with cooling; what stops what; every slip."""
    page.get_by_role("link", name="Bench").click()
    calls = page.get_by_role("group", name="Call", exact=True)
    calls.get_by_role("button", name="cool").click()
    calls.get_by_role("button", name="humidify", exact=True).click()
    page.get_by_text("steam cylinder of SH-1").first.wait_for()
    page.locator('[data-load="AH-1.FR"] [data-on]').first.click()
    page.get_by_text("Fan relay of AH-1 is on.").wait_for()
    page.evaluate("window.scrollTo(0, 0)")
    shoot(page, "bench")
    page.get_by_role("tab", name="What stops what").click()
    page.get_by_role("button", name="pump fault and dehumidifier: goes on, asked for").click()
    shoot(page, "bench-matrix")
    page.get_by_role("tab", name="If someone slips").click()
    page.get_by_role("heading", name="ways to slip").wait_for(timeout=60_000)
    page.get_by_role("button", name="a safety contact does nothing").click()
    page.evaluate("window.scrollTo(0, 0)")
    shoot(page, "bench-slips")


def main() -> None:
    FOLDER.mkdir(parents=True, exist_ok=True)
    with database(), server() as base, sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=CHROMIUM)

        def open_window(viewport: dict[str, int] = DESK, username: str | None = "i.tarn") -> Page:
            return window(browser, base, viewport, username)

        views(open_window)
        browser.close()


if __name__ == "__main__":
    main()
