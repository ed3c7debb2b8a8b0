"""Meters: with what something was read, whether two can both be right, values taken over SCPI and Modbus."""

from __future__ import annotations

import socket
import subprocess
import sys
import time
from collections.abc import Iterator
from datetime import date, timedelta
from pathlib import Path
from typing import Any

import orjson
import pytest
from accounts.models import User
from django.conf import settings
from leitung_core.commissioning.judge import judge_reading
from leitung_core.control.system import systems_of
from leitung_core.plan.model import read_plan
from leitung_core.plant.plant import Plant
from leitung_core.result import check_and_brief
from leitung_core.slips.dead_tests import dead_tests
from leitung_core.slips.mistakes import mistakes
from leitung_demo import museum
from meters import connected as known
from meters.connected import Connected
from meters.taking import _open
from records.models import Reading

from launch.common import environment
from tests.server.conftest import Api
from tests.server.test_records import READ

pytestmark = pytest.mark.django_db


def clamp(api: Api, **more: Any) -> str:
    body = {"name": "clamp meter", "serial": "7714", "classes": {"V": {"share": 0.01, "digits": 0.5}}} | more
    return str(api.post("/api/meters", body).json()["id"])


def entries(answer: Any) -> list[dict[str, Any]]:
    return list(answer.json()["readings"][0]["entries"])


def test_a_reading_keeps_the_meter_as_it_was(api: Api, install: str) -> None:
    base = f"/api/installs/{install}"
    old = date.today() - timedelta(days=400)
    meter = clamp(api, calibrated_on=old.isoformat())
    (entry,) = entries(api.post(f"{base}/readings", READ | {"meter": meter}))
    assert entry["meter"] == {
        "name": "clamp meter", "serial": "7714", "says": f"± 1 % and 0.5 V, calibrated {old.isoformat()}",
        "doubt": "calibrated more than a year before",
    }  # fmt: skip
    today = date.today().isoformat()
    assert "doubt" not in api.post(f"/api/meters/{meter}/calibration", {"on": today}).json()
    assert api.post(f"/api/meters/{meter}/retirement", {}).status_code == 200
    assert [row["id"] for row in api.get("/api/meters").json() if not row["reached"]] == []
    # What was read before says what stood then; one that waited without a signal may still name it.
    assert Reading.objects.get().meter["calibrated_on"] == old.isoformat()
    corrected = api.post(f"{base}/readings", READ | {"value": 245.0, "corrects": entry["id"], "meter": meter})
    assert entries(corrected)[1]["meter"]["says"].endswith(today)


@pytest.mark.parametrize(("second", "agree"), [(251.8, True), (253.0, False)])
def test_two_meters_beyond_their_classes_are_told(api: Api, install: str, second: float, agree: bool) -> None:
    """246.5 V ± 1 % and 0.5 V: 2.965 V; 251.8 V: 3.018 V: 5.3 V lie between. 253 V: 3.03 V, and 6.5 V between."""
    base = f"/api/installs/{install}"
    (first,) = entries(api.post(f"{base}/readings", READ | {"meter": clamp(api)}))
    other = READ | {"value": second, "corrects": first["id"], "meter": clamp(api, name="bench meter")}
    doubt = entries(api.post(f"{base}/readings", other))[1]["meter"].get("doubt", "")
    assert ("cannot both be right" in doubt) is not agree


def test_nonsense_is_refused_in_words_and_nobody_elses_meter_is_used(api: Api, install: str, stranger: User) -> None:
    url = f"/api/installs/{install}/readings"
    theirs = clamp(Api(stranger))
    for wrong, words in ((theirs, "no such meter"), ("nonsense", "no such meter"),
                         (clamp(api, classes={"A": {"share": 0.02, "digits": 0.1}}), "does not read V")):  # fmt: skip
        (told,) = api.post(url, READ | {"meter": wrong}).json()["errors"]
        assert (told["field"], words in told["message"], bool(told["remedy"])) == ("meter", True, True)
    tomorrow = (date.today() + timedelta(days=2)).isoformat()
    assert api.post("/api/meters", {"name": "x", "calibrated_on": tomorrow}).status_code == 422
    assert api.post(f"/api/meters/{theirs}/retirement", {}).status_code == 404
    assert Reading.objects.count() == 0


def test_an_instrument_that_does_not_answer_is_said(api: Api, install: str, monkeypatch: pytest.MonkeyPatch) -> None:
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))  # bound, and nobody listens
        dead = {"id": "dead", "name": "dead meter", "protocol": "scpi", "host": "127.0.0.1",
                "port": taken.getsockname()[1], "classes": {"V": {"share": 0.01, "digits": 0.3}}}  # fmt: skip
        monkeypatch.setitem(settings.CONFIG, "instruments", [dead, {"id": "no address"}])
        assert [row["id"] for row in api.get("/api/meters").json() if row["reached"]][:1] == ["dead"]
        told = api.post(f"/api/installs/{install}/takings", {"key": "MS-1.L1-L2", "meter": "dead"})
    assert (told.status_code, told.json()["code"]) == (503, "no-instrument")
    assert "Type what it shows" in told.json()["detail"]


@pytest.fixture(scope="module")
def stand_ins(tmp_path_factory: pytest.TempPathFactory) -> Iterator[list[Connected]]:
    """Both stand-ins as `start` runs them, on ports of their own."""
    file = Path(tmp_path_factory.mktemp("stand-ins")) / "at.json"
    with socket.socket() as one, socket.socket() as two:
        for free in (one, two):
            free.bind(("127.0.0.1", 0))
        ports = [str(free.getsockname()[1]) for free in (one, two)]
    process = subprocess.Popen([sys.executable, "-m", "meters.standin", *ports, str(file)], env=environment())
    try:
        while not file.exists():
            assert process.poll() is None
            time.sleep(0.1)
        yield [Connected.model_validate(row) for row in orjson.loads(file.read_bytes())]
    finally:
        process.terminate()
        process.wait()


def test_what_is_taken_lies_in_its_band_and_outside_with_a_mistake_hidden(
    api: Api, stand_ins: list[Connected], monkeypatch: pytest.MonkeyPatch
) -> None:
    """Over both protocols; a stand-in's figure is looked at, and never recorded."""
    monkeypatch.setattr(known, "_stand_ins", lambda: [found.model_dump(mode="json") for found in stand_ins])
    plan = museum()
    install = api.post("/api/imports", plan).json()["install"]["id"]
    url = f"/api/installs/{install}/takings"
    points = {point.key: point for point in check_and_brief(read_plan(plan))[1].start_up.readings}
    tried = {"UH-1.L1-L2": 2, "UH-1.running": 2, "AH-1.ctl-R.idle": 2, "IU-2.unit-3.signal": 1, "FD-1.L1-L2": 2}
    ohms = next(key for key in points if key.startswith("AH-1.ctl.R-") and key.endswith(".ohms"))
    for key, meters in {**tried, ohms: 1}.items():
        for meter in stand_ins[:meters]:
            value = api.post(url, {"key": key, "meter": meter.id}).json()["value"]
            assert judge_reading(points[key], value) == "within", (key, meter.id, value)
    system = next(system for system in systems_of(Plant(read_plan(plan))) if "AH-1" in system.devices)
    shows = next(test for test in dead_tests(system) or () if f"{test.a}-{test.b}.ohms" == ohms)
    hidden = mistakes(system)[min(shows.exposes)]
    with _open(stand_ins[0], stand_ins[0].port) as line:
        assert line.query(f"STAN:MIST {hidden.id}") == "OK"
        value = api.post(url, {"key": ohms, "meter": stand_ins[0].id}).json()["value"]
        assert judge_reading(points[ohms], value) == "outside", (hidden.id, value)
        assert line.query("STAN:MIST no such mistake") == "ERROR"
        assert line.query("MEAS:POWER?") == "ERROR"
    other = api.post(url, {"key": ohms, "meter": stand_ins[1].id})
    assert (other.status_code, other.json()["code"]) == (409, "wrong-meter")
    kept = api.post(f"/api/installs/{install}/readings", {"key": "UH-1.L1-L2", "value": 240, "meter": stand_ins[0].id,
                                                          "reason": "tried"})  # fmt: skip
    assert (kept.status_code, kept.json()["code"]) == (409, "stand-in")
    assert Reading.objects.count() == 0
