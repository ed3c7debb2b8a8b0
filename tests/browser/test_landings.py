"""Landings in the browser: mended, by mouse, finger and key; a thermostat exchanged; the sheet at the device."""

from __future__ import annotations

import re
from itertools import pairwise
from typing import Any

import pytest
from installs.models import PlanRevision
from playwright.sync_api import Locator, Page, expect

from tests.browser.conftest import PHONE, SignIn, install

WRITE = """async ([path, body]) => {
    const session = await (await fetch("/api/session")).json();
    const headers = {"Content-Type": "application/json", "X-CSRFToken": session.csrf_token};
    headers["Idempotency-Key"] = "forty-conductors";
    return (await fetch(path, {method: "POST", body: JSON.stringify(body), headers})).status;
}"""


def landings(page: Page, name: str = "Museum plant", query: str = "") -> str:
    """The landings of an install of the demo; its id."""
    install(page, name)
    page.wait_for_url(re.compile("/installs/"))
    found = re.search(r"/installs/([^/]+)/", page.url)
    assert found is not None
    page.goto(f"/installs/{found[1]}/landings{query}")
    expect(page.get_by_role("navigation", name="Cables and devices")).to_be_visible()
    return found[1]


def grip(page: Page, wire: str, end: str) -> Locator:
    return page.locator(f'[data-grip="{wire} {end}"]')


def terminal(page: Page, ref: str) -> Locator:
    return page.locator(f'[data-terminal="{ref}"]').first


def conductor(cable: str, name: str, plan: str = "Museum plant") -> dict[str, Any]:
    row = PlanRevision.objects.filter(install__name=plan).order_by("number").last()
    assert row is not None
    return row.document["cables"][cable]["conductors"][name]


def test_a_crossing_is_cut_explained_and_mended_by_one_action(open_as: SignIn) -> None:
    page = open_as()
    landings(page, query="?cable=IC-1")
    findings = page.get_by_role("list", name="Findings")
    expect(findings).to_contain_text("line voltage on the signal input destroys both boards")
    # The indoor strip stands as it hangs: its first terminal is the ground, and conductors are matched by name.
    order = page.locator("[data-drawing] [data-terminal]").evaluate_all("all => all.map(e => e.dataset.terminal)")
    assert order[4:] == ["IU-1.unit.GND", "IU-1.unit.3", "IU-1.unit.2", "IU-1.unit.1"]
    findings.get_by_role("button", name="Swap black and red at IU-1").click()
    expect(page.get_by_text("Each conductor means the same at both ends.")).to_be_visible()
    expect(grip(page, "black", "b")).to_have_attribute("aria-label", re.compile("on unit 1"))
    page.keyboard.press("Control+z")
    expect(findings).to_contain_text("destroys both boards")


def test_by_keyboard_alone_land_move_cap_and_take_back(open_as: SignIn) -> None:
    page = open_as()
    landings(page, query="?cable=TC-3")
    white = grip(page, "white", "b")
    white.focus()
    page.keyboard.press("c")
    expect(white).to_have_attribute("aria-label", re.compile("capped"))
    expect(page.get_by_label("Conductor white")).to_contain_text("capped at TS-3")
    page.keyboard.press("Enter")
    page.keyboard.press("ArrowRight")
    expect(page.get_by_text("is in your hand")).to_be_visible()
    page.keyboard.press("Enter")
    expect(white).to_have_attribute("aria-label", re.compile("on base W"))
    page.keyboard.press("Enter")
    page.keyboard.press("ArrowLeft")
    page.keyboard.press("Enter")
    expect(white).to_have_attribute("aria-label", re.compile("on base R"))
    expect(page.get_by_label("Conductor white")).to_contain_text("arrives on R at TS-3")
    page.keyboard.press("Control+z")
    expect(white).to_have_attribute("aria-label", re.compile("on base W"))
    expect(white).to_be_focused()
    page.keyboard.press("ArrowUp")
    expect(grip(page, "white", "a")).to_be_focused()
    page.keyboard.press("ArrowLeft")
    expect(grip(page, "red", "a")).to_be_focused()
    page.keyboard.press("Enter")
    page.keyboard.press("Escape")
    expect(page.get_by_text("is in your hand")).to_have_count(0)


def test_dragged_by_mouse_to_a_terminal_and_let_go_beside_it(open_as: SignIn) -> None:
    page = open_as()
    landings(page, query="?cable=TC-2")
    orange, target = grip(page, "orange", "b"), terminal(page, "TS-2.base.OB")
    orange.scroll_into_view_if_needed()
    start, end = orange.bounding_box(), target.bounding_box()
    assert start
    assert end
    page.mouse.move(start["x"] + start["width"] / 2, start["y"] + start["height"] / 2)
    page.mouse.down()
    page.mouse.move(end["x"] + end["width"] / 2, end["y"] + 20, steps=6)
    page.mouse.up()
    expect(orange).to_have_attribute("aria-label", re.compile("on base OB"))
    expect(page.get_by_label("Conductor orange")).to_contain_text("Orange leaves Y2 at RT-1 and arrives on O/B at TS-2")
    page.mouse.move(end["x"] + end["width"] / 2, start["y"] + start["height"] / 2)
    page.mouse.down()
    page.mouse.move(end["x"] + end["width"] / 2, end["y"] - 160, steps=4)
    page.mouse.up()
    expect(orange).to_have_attribute("aria-label", re.compile("on base OB"))


def test_by_finger_a_conductor_is_taken_up_and_put_down(open_as: SignIn) -> None:
    page = open_as(viewport=PHONE, has_touch=True)
    landings(page, query="?cable=TC-3")
    grip(page, "white", "b").tap()
    expect(page.get_by_text("is in your hand")).to_be_visible()
    page.get_by_role("button", name="Cap it").tap()
    expect(grip(page, "white", "b")).to_have_attribute("aria-label", re.compile("capped"))
    grip(page, "white", "b").tap()
    terminal(page, "TS-3.base.W").tap()
    expect(grip(page, "white", "b")).to_have_attribute("aria-label", re.compile("on base W"))
    assert page.evaluate("document.documentElement.scrollWidth") <= PHONE["width"]


def test_a_newcomer_draws_devices_and_a_cable_and_the_convention_lands_it(open_as: SignIn) -> None:
    page = open_as()
    landings(page, "Ticket kiosk")
    expect(page.get_by_role("heading", name="No cable yet")).to_be_visible()
    for words, device in (("furnace", "furnace board Emberwold EW-80"), ("batteries", "thermostat on batteries")):
        page.get_by_role("button", name="Put a device in").click()
        page.get_by_label("Search devices").fill(words)
        page.get_by_role("list", name="Devices found").get_by_role("button", name=device).click()
        expect(page.get_by_role("button", name="Exchange it")).to_be_visible()
    page.get_by_role("button", name="Draw a cable").click()
    page.get_by_label("From device").select_option("BD-1")
    page.get_by_label("To device").select_option("TS-1")
    page.get_by_label("Conductors of the new cable").select_option("4 conductors")
    page.get_by_role("button", name="Draw it").click()
    page.get_by_role("button", name="Land by the convention").click()
    expect(grip(page, "blue", "b")).to_have_attribute("aria-label", re.compile("on base Y"))
    page.get_by_label("Place of stretch 1").select_option("attic")
    page.get_by_label("Length of stretch 1").fill("32")
    page.keyboard.press("Enter")
    page.get_by_label("State of the cable").select_option("there already")
    page.get_by_role("button", name="Keep it as found").click()
    # The old thermostat goes; the new one needs a common that four conductors do not have: said before any order.
    page.get_by_role("button", name="TS-1", exact=True).click()
    page.get_by_role("button", name="Exchange it").click()
    page.get_by_label("Exchange it for").select_option("thermostat that needs a common CF-30")
    expect(page.get_by_text("has nothing on C (common). No conductor is free for it.")).to_be_visible()
    moves = page.get_by_role("region", name="Moves")
    expect(moves.get_by_role("listitem")).to_have_count(4)
    expect(moves).to_contain_text("W at TS-1 → W at TS-2")
    page.get_by_role("button", name="As found").click()
    expect(page.locator('[data-terminal="TS-1.base.W"]')).to_be_visible()
    page.get_by_role("button", name="As planned").click()
    page.get_by_role("button", name="Replace PC-1: do it").or_(
        page.get_by_role("button", name="Replace TC-1: do it")
    ).click()
    expect(page.get_by_text("has nothing on C (common)")).to_have_count(0)
    assert conductor("TC-1", "blue", "Ticket kiosk")["b"]["terminal"] == "TS-2.base.C"


def test_the_sheet_at_the_device_one_terminal_at_a_time(open_as: SignIn) -> None:
    page = open_as("o.brisk", viewport=PHONE)
    found = landings(page)
    page.goto(f"/installs/{found}/sheet?device=IU-1")
    expect(page.get_by_text("line voltage on the signal input destroys both boards")).to_be_visible()
    card = page.get_by_role("region", name="Terminal GND")
    expect(card).to_contain_text("green")
    page.get_by_role("button", name="Next").click()
    card = page.get_by_role("region", name="Terminal 3")
    expect(card).to_contain_text("other end: 1 at OU-1")
    # Nothing is proved dead yet: it is ticked with the reason why.
    expect(card.get_by_role("checkbox")).to_be_disabled()
    expect(card).to_contain_text("First:")
    card.get_by_label("Why is it landed before that").fill("its line is not there yet")
    card.get_by_role("checkbox").check()
    expect(page.get_by_text("1 of 4 ticked")).to_be_visible()
    page.reload()
    expect(page.get_by_text("1 of 4 ticked")).to_be_visible()
    assert page.evaluate("document.documentElement.scrollWidth") <= PHONE["width"]
    for button in page.get_by_role("main").get_by_role("button").all():
        box = button.bounding_box()
        assert box
        assert box["height"] >= 43.5


def test_a_list_with_a_wrong_line_is_kept_in_its_field(open_as: SignIn) -> None:
    page = open_as()
    landings(page, query="?cable=TC-3")
    page.get_by_role("button", name="Bring a landing list").click()
    box = page.get_by_role("textbox", name="Landing list")
    box.fill("cable,conductor,a,b\nTC-3,red,UH-1.stat.R,TS-3.base.X\n")
    page.get_by_role("button", name="Take it in").click()
    expect(page.get_by_role("alert")).to_contain_text("line 2, b")
    expect(box).to_have_value(re.compile("TS-3.base.X"))
    box.fill("cable,conductor,a,b\nTC-3,red,UH-1.stat.R,capped\n")
    page.get_by_role("button", name="Take it in").click()
    expect(page.get_by_text("Taken in.")).to_be_visible()
    expect(grip(page, "red", "b")).to_have_attribute("aria-label", re.compile("capped"))


def test_a_reader_and_the_crew_see_and_change_nothing(open_as: SignIn) -> None:
    page = open_as("w.lune")
    landings(page, query="?cable=IC-1")
    expect(page.get_by_role("list", name="Findings")).to_contain_text("destroys both boards")
    expect(page.get_by_role("button", name="Swap black and red at IU-1")).to_have_count(0)
    grip(page, "black", "b").focus()
    page.keyboard.press("c")
    page.keyboard.press("Enter")
    expect(page.get_by_text("is in your hand")).to_have_count(0)
    assert conductor("IC-1", "black")["b"] == {"terminal": "IU-1.unit.3"}


@pytest.mark.parametrize("viewport", [{"width": 1280, "height": 800}])
def test_forty_conductors_on_one_screen_stay_apart(open_as: SignIn, viewport: dict[str, int]) -> None:
    page = open_as(viewport=viewport)
    found = landings(page, "Ticket kiosk")
    ends = {f"{n}": {"a": {"terminal": f"X-1.x.{n}"}, "b": {"terminal": f"X-2.x.{41 - n}"}} for n in range(1, 41)}
    make = {
        "family": "control",
        "awg": "18",
        "count": 40,
        "length_ft": 60,
        "route": {"r1": {"order": 1, "spot": "interior"}},
    }
    patch = {
        "devices": {"X-1": {"type": "terminal-strip-40"}, "X-2": {"type": "terminal-strip-40"}},
        "cables": {"M-1": {**make, "a": {"device": "X-1"}, "b": {"device": "X-2"}, "conductors": ends}},
    }
    sent = page.evaluate(WRITE, [f"/api/installs/{found}/patches", {"base_revision": 1, "patch": patch}])
    assert sent == 200
    page.goto(f"/installs/{found}/landings?cable=M-1")
    grips = page.locator("[data-grip$=' a']")
    expect(grips).to_have_count(40)
    boxes = sorted(box["x"] for grip in grips.all() if (box := grip.bounding_box()))
    assert all(after - before >= 20 for before, after in pairwise(boxes))
    assert page.evaluate("document.documentElement.scrollWidth") <= viewport["width"]
    last = grip(page, "40", "a")
    last.focus()
    page.keyboard.press("Enter")
    page.keyboard.press("ArrowLeft")
    page.keyboard.press("Enter")
    expect(last).to_have_attribute("aria-label", re.compile("on x 39"))
    expect(page.get_by_text("saving …")).to_have_count(0)
    assert conductor("M-1", "40", "Ticket kiosk")["a"]["terminal"] == "X-1.x.39"


def test_without_a_signal_nothing_is_called_proved(open_as: SignIn) -> None:
    page = open_as()
    landings(page, query="?cable=TC-3")
    proof = "Each conductor means the same at both ends."
    expect(page.get_by_text(proof)).to_be_visible()
    page.context.set_offline(True)
    grip(page, "white", "b").focus()
    for key in ("Enter", "ArrowLeft", "Enter", "Escape"):
        page.keyboard.press(key)
    expect(grip(page, "white", "b")).to_have_attribute("aria-label", re.compile("on base R"))
    expect(page.get_by_text("Not checked yet: a change is still on its way.")).to_be_visible()
    expect(page.get_by_text(proof)).to_have_count(0)
    page.context.set_offline(False)
    expect(page.get_by_role("list", name="Findings")).to_contain_text("arrives on R at TS-3")


def test_a_device_of_ones_own_is_described_solved_and_put_in(open_as: SignIn) -> None:
    page = open_as()
    landings(page, "Ticket kiosk", query="?own=1")
    expect(page.get_by_role("button", name="Put it in")).to_be_disabled()
    page.get_by_label("Name of the new device").fill("fan centre")
    page.get_by_label("Terminals of strip 1").fill("R C G COM NO")
    proof = page.get_by_role("region", name="Solved alone")
    expect(proof).to_contain_text("it passes the call on, or an element is missing")
    page.get_by_role("button", name="+ coil").click()
    expect(page.get_by_text("Choose where K1 lies.")).to_be_visible()
    page.get_by_label("K1 from 1").select_option(label="G")
    page.get_by_label("K1 to 2").select_option(label="C")
    expect(proof).to_contain_text("K1 on, 23.9 V")
    page.get_by_label("K1 VA").fill("six")
    expect(proof).to_contain_text("K1 va")
    page.get_by_label("K1 VA").fill("6")
    page.get_by_role("button", name="Put it in").click()
    expect(page.get_by_role("heading", name="FAN-CENTRE fan centre")).to_be_visible()
    expect(page.get_by_text("saving …")).to_have_count(0)
    row = PlanRevision.objects.filter(install__name="Ticket kiosk").order_by("number").last()
    assert row is not None
    plan = row.document
    assert plan["devices"]["FAN-CENTRE"]["type"] == "fan-centre"
    assert plan["device_types"]["fan-centre"]["inside"][0]["va"] == 6
