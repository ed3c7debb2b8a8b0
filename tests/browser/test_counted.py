"""How few actions a job takes: every press, choice and filled field is counted, each job from the board on.

A field is one action however much is typed in it. What a job took before is given where it is asked for; none may take
more than three fifths of it.
"""

from __future__ import annotations

import io
import re
from typing import Any

import pytest
from accounts.models import User
from installs import actions
from installs.models import Install
from leitung_core.plan.patch import merge
from leitung_demo import museum
from photos.actions import work_out
from photos.models import Photo
from playwright.sync_api import Locator, Page, expect
from pypdf import PdfReader

from tests.browser.conftest import SignIn
from tests.core.entry.plates import PLATES, draw, raw

SCHEDULE = """EQUIPMENT SCHEDULE,,,,,
MARK,TYPE,VOLTS-PH-HZ,MCA,MOCP,KW
RTU-1,Packaged rooftop unit,208-3-60,41.2,50,
RTU-2,Packaged rooftop unit,208-3-60,30.9,40,
RTU-3,Packaged rooftop unit,208-3-60,30.9,40,
MS-1,Mini-split,208-1-60,17.8,25,
MS-2,Mini-split,208-1-60,14.1,20,
EUH-1,Electric unit heater,208-3-60,,,7.5
EUH-2,Electric unit heater,208-3-60,,,7.5
EUH-3,Electric unit heater,208-3-60,,,5
EUH-4,Electric unit heater,208-1-60,,,3
AH-1,Air handler,208-1-60,28,30,
HP-1,Heat pump,208-1-60,24.4,40,
"""


class Hands:
    """Somebody at the screen; what they do is counted."""

    def __init__(self, page: Page) -> None:
        self.page, self.count = page, 0

    def press(self, name: str | re.Pattern[str], role: Any = "button", within: Locator | Page | None = None) -> None:
        self.count += 1
        (within or self.page).get_by_role(role, name=name).first.click()

    def key(self, name: str) -> None:
        self.count += 1
        self.page.keyboard.press(name)

    def fill(self, label: str, value: str) -> None:
        """A field filled and left with Enter."""
        self.count += 1
        self.page.get_by_label(label, exact=True).first.fill(value)
        self.page.keyboard.press("Enter")
        self.settled()

    def choose(self, label: str, value: str) -> None:
        self.count += 1
        self.page.get_by_label(label, exact=True).first.select_option(label=value)
        self.settled()

    def settled(self) -> None:
        """Nobody presses what still moves: what was entered is answered first."""
        expect(self.page.get_by_text("saving …")).to_have_count(0)

    def give(self, field: Locator, name: str, kind: str, body: bytes) -> None:
        """A photo taken, a file chosen."""
        self.count += 1
        field.set_input_files({"name": name, "mimeType": kind, "buffer": body})

    def begin(self, name: str) -> None:
        self.fill("Name of the new install", name)
        expect(self.page.get_by_role("heading", name=name, level=1)).to_be_visible()

    def printed(self, link: str) -> bytes:
        """A sheet that is printed."""
        self.count += 1
        address = self.page.get_by_role("link", name=link).first.get_attribute("href")
        body = self.page.request.get(address or "").body()
        assert body.startswith(b"%PDF-")
        return body


@pytest.fixture
def hands(open_as: SignIn) -> Hands:
    return Hands(open_as())


def test_from_a_mini_splits_plate_to_its_printed_package(hands: Hands) -> None:
    """63 before; 25 at most."""
    page = hands.page
    hands.begin("Ropewalk")
    said = "MS-1 mini-split, 60 ft THWN-2 in EMT from Panel A, outdoor 95F"
    hands.fill("Say the unit in one sentence", said)
    unit = page.get_by_role("region", name="Plate of MS-1 from a photo")
    hands.give(unit.locator("input"), "plate.png", "image/png", raw(draw(PLATES["outdoor"], "rows")))
    expect(unit).to_contain_text("Reading the plate")
    work_out(Photo.objects.get().id)
    hands.press(re.compile(r"^Take \d"), within=unit)
    hands.fill("Distance to the service receptacle", "12 ft")
    hands.press("volts and phases of the supply")
    hands.fill("Supply volts", "240")
    hands.choose("Supply phases", "single phase")
    hands.fill("Bus rating", "200")
    hands.fill("Numbered spaces", "40")
    hands.press("conductors together")
    hands.fill("Current-carrying conductors", "2")
    hands.press(re.compile("^Take 25 A"))
    expect(page.get_by_label("Still to enter", exact=True)).not_to_contain_text("conductor")
    hands.press(re.compile("^Handover"), "link")
    text = "".join(sheet.extract_text() for sheet in PdfReader(io.BytesIO(hands.printed("Circuit schedule"))).pages)
    assert "17.8 A" in text
    assert hands.count <= 25


def test_eleven_units_from_the_engineers_schedule(hands: Hands) -> None:
    """12 at most."""
    page = hands.page
    hands.begin("Granary")
    field = page.get_by_role("region", name="An equipment schedule").locator("input")
    hands.give(field, "schedule.csv", "text/csv", SCHEDULE.encode())
    hands.press("Draw 11 lines")
    for name in ("RTU-3", "MS-2", "EUH-4", "HP-1"):
        expect(page.get_by_role("main")).to_contain_text(name)
    hands.press(re.compile("^Handover"), "link")
    assert hands.printed("Circuit schedule")
    assert hands.count <= 12


@pytest.mark.parametrize(
    ("before", "sentence", "recommended"),
    [
        (28, "RT-1 packaged rooftop 208-3-60 MCA 41.2 max 50, 80 ft THWN-2 in EMT, roof 95F", "Take 50 A"),
        (22, "UH-1 unit heater 7.5 kW 208 V 3ph, 55 ft THWN-2 in EMT, indoors 86F", "Take 30 A"),
    ],
)
def test_a_unit_with_its_line_chosen(hands: Hands, before: int, sentence: str, recommended: str) -> None:
    """Drawn, its supply said, and what is proposed taken: device, conductors, disconnect."""
    page = hands.page
    hands.begin("Tannery")
    hands.fill("Say the unit in one sentence", sentence)
    hands.press("volts and phases of the supply")
    hands.fill("Supply volts", "208")
    hands.choose("Supply phases", "three phases")
    hands.press("conductors together")
    hands.fill("Current-carrying conductors", "3")
    hands.press(re.compile(f"^{recommended}"))
    expect(page.get_by_label("Still to enter", exact=True)).not_to_contain_text("conductor")
    assert hands.count <= 0.6 * before


def test_a_thermostat_is_exchanged(hands: Hands) -> None:
    """5 before, from the device on: what hung on the old one goes where it means the same."""
    page = hands.page
    page.get_by_role("link", name="Museum plant").click()
    page.wait_for_url("**/lines")
    page.goto(page.url.replace("/lines", "/landings?device=TS-3"))
    hands.press("Exchange it")
    hands.choose("Exchange it for", "thermostat for heat pumps and accessories CF-60")
    expect(page.get_by_role("region", name="Moves")).to_be_visible()
    assert hands.count <= 0.6 * 5


# The second head's pair the right way round.
HEADS = {"black": {"b": {"terminal": "HD-2.head.P"}}, "white": {"b": {"terminal": "HD-2.head.M"}}}


def test_a_detector_is_proved_on_the_bench_and_on_the_unit(hands: Hands) -> None:
    """26 before: its smoke let happen, what it stops looked at, and all three seen to stop on the unit."""
    page = hands.page
    mended = {
        "circuits": {"RT-1": {"ocpd": {"rating_a": 40}}},
        "cables": {"TC-2": {"wet": True}, "HC-2": {"conductors": HEADS}},
    }
    plan = merge(museum(), {"name": "Gallery roof"} | mended)
    actions.create(User.objects.get(username="i.tarn"), plan, "Install begun")
    page.reload()
    page.get_by_role("link", name="Gallery roof").first.click()
    hands.press(re.compile("^Bench"), "link")
    hands.press(re.compile("^RT-1"))
    hands.press("smoke", within=page.get_by_role("group", name="Let happen"))
    hands.press("What stops what", "tab")
    hands.press(re.compile("^smoke and fan: stops"))
    hands.press("Try it on the unit at Start-up", "link")
    hands.press(re.compile("^Smoke, with what it must stop"))
    hands.fill("Why is it done before what it needs", "an old unit, only its detector is new")
    hands.press("All 3 stopped")
    proofs = page.get_by_role("region", name="Interlocks proved")
    expect(proofs.get_by_text("stopped Ines Tarn")).to_have_count(3)
    assert hands.count <= 0.6 * 26


def test_a_humidifier_with_its_control(hands: Hands) -> None:
    """21 before: its line drawn and chosen, then its relay, limit and airflow proving on the bench."""
    page = hands.page
    plan = museum()
    gone = ("SH-1", "HS-1", "HL-1", "AF-1", "IR-1", "B-SH1", "D-SH1")
    del plan["equipment"]["SH-1"], plan["circuits"]["SH-1"]
    plan["questions"] = {}
    plan["devices"] = {key: row for key, row in plan["devices"].items() if key not in gone}
    plan["cables"] = {
        key: row for key, row in plan["cables"].items() if not {row["a"]["device"], row["b"]["device"]} & {*gone}
    }
    actions.create(User.objects.get(username="i.tarn"), plan | {"name": "Vault"}, "Install begun")
    page.reload()
    page.get_by_role("link", name="Vault").first.click()
    hands.fill(
        "Say the unit in one sentence", "SH-1 steam humidifier 240 V 1ph 11.4 A, 30 ft NM-B from VP, indoors 77F"
    )
    line = page.locator("[data-line='SH-1']")
    hands.press(re.compile("^Take"), within=line)
    hands.press(re.compile("^Bench"), "link")
    hands.press(re.compile("^AH-1"))
    for name in ("Isolation relay for a humidifier", "Limit and airflow proving"):
        hands.press("Add an accessory", "tab")
        hands.press(re.compile(f"^{name}"))
        hands.press("Put it in")
        hands.settled()
        expect(page.get_by_role("tab", name="Try it")).to_have_attribute("aria-selected", "true")
    devices = Install.objects.get(name="Vault").revisions.latest("number").document["devices"]
    assert (devices["SH-1"]["equipment"], devices["IR-1"]["type"], "AF-1" in devices) == ("SH-1", "relay", True)
    assert hands.count <= 0.6 * 21
