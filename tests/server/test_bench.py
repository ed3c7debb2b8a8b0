"""The bench over the API: pressed, slipped, analysed by the worker, explained, fitted with patterns, printed."""

from __future__ import annotations

import subprocess
from datetime import timedelta
from pathlib import Path
from typing import Any
from uuid import UUID

import pytest
from accounts.models import User
from bench import analyses
from bench.models import Analysis
from django.utils import timezone
from installs import actions
from leitung_demo import museum

from launch.server import worker_command
from tests.server.conftest import Api, worker_environment
from tests.server.test_landings import text_of

VAULT = "AH-1"


@pytest.fixture
def plant(lead: User) -> str:
    """The museum, as the demo has it; the path of its install."""
    return f"/api/installs/{actions.create(lead, museum(), 'Install begun').install.id}"


@pytest.fixture
def analysed(api: Api, plant: str) -> dict[str, Any]:
    """The mistakes of the crate room's heater, worked out: it is small."""
    asked = api.post(f"{plant}/analyses", {"system": "UH-1"}).json()
    analyses.carry_out(UUID(asked["id"]))
    found: dict[str, Any] = api.get(f"{plant}/analyses/{asked['id']}").json()
    return found


@pytest.mark.django_db
class TestBench:
    def test_the_systems_and_the_one_with_a_device(self, api: Api, plant: str) -> None:
        found = api.get(f"{plant}/bench?system=IR-1").json()
        assert [entry["key"] for entry in found["systems"]][:2] == [VAULT, "RT-1"]
        assert found["system"]["key"] == VAULT
        cell = next(c for c in found["cells"] if (c["cause"], c["effect"]) == ("cause:pump-fault", "dehumidifier"))
        assert (cell["wanted"], cell["outcome"]) == (True, "goes on")
        assert api.get(f"{plant}/bench?system=NO-1").json().get("system") is None

    def test_pressing_cool_pulls_the_fan_in_and_says_why(self, api: Api, plant: str) -> None:
        course = [{"on": [], "for_s": 5}, {"on": ["call:cool"]}]
        found = api.post(f"{plant}/bench/runs", {"system": VAULT, "course": course}).json()
        fan = found["frames"][-1]["loads"]["AH-1.FR"]
        assert fan["on"]
        assert "cool, TS-1" in fan["why"]

    def test_a_mistake_is_shown_and_one_that_cannot_be_made_is_refused(self, api: Api, plant: str) -> None:
        body = {"system": VAULT, "course": [{"on": ["call:heat"]}], "slip": "open/TC-1/white"}
        assert not api.post(f"{plant}/bench/runs", body).json()["frames"][-1]["loads"]["AH-1.HEAT"]["on"]
        setting = body | {"slip": "set/AH-1/tap/240"}
        frame = api.post(f"{plant}/bench/runs", setting).json()["frames"][-1]
        assert "WRONG_TAP" in {row["hazard"] for row in frame["findings"]}
        refused = api.post(f"{plant}/bench/runs", body | {"slip": "open/TC-9/white"})
        assert (refused.status_code, refused.json()["code"]) == (404, "slip")

    @pytest.mark.parametrize("course", [[], [{"on": ["x"], "for_s": -1}], [{"on": []}] * 61, [{"on": "cool"}]])
    def test_nonsense_is_refused_and_named(self, api: Api, plant: str, course: Any) -> None:
        refused = api.post(f"{plant}/bench/runs", {"system": VAULT, "course": course})
        assert refused.status_code == 422
        assert refused.json()["errors"][0]["field"].startswith("course")

    def test_a_pattern_is_offered_fitted_and_placed_by_one_change(self, api: Api, plant: str) -> None:
        offered = {row["id"]: row for row in api.get(f"{plant}/bench/patterns?near={VAULT}").json()}
        assert offered["fan-delay"]["candidates"]["board"][0] == VAULT
        asked = {"pattern": "fan-delay", "near": VAULT, "length_ft": 6}
        fit = api.post(f"{plant}/bench/fits", asked).json()
        assert fit["obstacles"] == []
        assert [row for row in fit["findings"] if row["severity"] == "stop"] == []
        other = api.post(f"{plant}/bench/placements", asked | {"length_ft": 7, "patch": fit["patch"]})
        assert (other.status_code, other.json()["code"]) == (409, "fit-changed"), "typed anew after it was shown"
        done = api.post(f"{plant}/bench/placements", asked | {"patch": fit["patch"]}).json()
        assert done["install"]["revision"] == 2
        assert set(fit["devices"]) <= set(done["document"]["devices"])
        assert done["document"]["patterns"]["fan-delay-1"]["parts"]["board"] == VAULT
        again = api.post(f"{plant}/bench/placements", asked | {"patch": fit["patch"]})
        assert (again.status_code, again.json()["code"]) == (409, "fit-changed"), "pressed twice"
        assert api.post(f"{plant}/bench/fits", {"pattern": "none", "near": VAULT}).status_code == 404

    def test_what_stands_in_a_patterns_way_comes_with_its_ways_out(self, api: Api, plant: str) -> None:
        fit = api.post(f"{plant}/bench/fits", {"pattern": "humidity-by-thermostat", "near": VAULT}).json()
        assert fit["patch"] is None
        assert fit["obstacles"][0]["says"] == "No conductor is spare in TC-1."
        assert fit["obstacles"][0]["ways"][0]["fix"]["cables"]["TC-1"]["count"] == 10

    def test_an_analysis_waits_is_worked_out_and_is_given_again(self, api: Api, plant: str) -> None:
        asked = api.post(f"{plant}/analyses", {"system": "UH-1"})
        assert (asked.status_code, asked.json()["status"]) == (202, "queued")
        place = f"{plant}/analyses/{asked.json()['id']}"
        early = api.post(f"{place}/diagnoses", {"readings": []})
        assert (early.status_code, early.json()["code"]) == (409, "not-done")
        analyses.carry_out(UUID(asked.json()["id"]))
        done = api.get(place).json()
        assert (done["status"], done["share"]) == ("done", 1)
        assert sum(row["count"] for row in done["report"]["harms"]) == len(done["report"]["mistakes"])
        assert api.post(f"{plant}/analyses", {"system": "TS-3"}).json()["id"] == done["id"], "the same system"
        api.post(f"{plant}/patches", {"base_revision": 1, "patch": {"name": "Another"}})
        assert api.post(f"{plant}/analyses", {"system": "UH-1"}).json()["id"] != done["id"], "another revision"

    def test_a_cancelled_analysis_stops_and_can_be_asked_for_anew(
        self, api: Api, plant: str, monkeypatch: pytest.MonkeyPatch
    ) -> None:
        asked = api.post(f"{plant}/analyses", {"system": "UH-1"}).json()
        assert api.post(f"{plant}/analyses/{asked['id']}/cancellation").json()["status"] == "cancelled"
        analyses.carry_out(UUID(asked["id"]))
        assert Analysis.objects.get().report is None
        again = api.post(f"{plant}/analyses", {"system": "UH-1"}).json()
        assert again["id"] != asked["id"]

        # Cancelled in the middle: the next word of progress finds it so.
        def broken_off(_: Any, progress: Any) -> Any:
            progress(0.2)
            api.post(f"{plant}/analyses/{again['id']}/cancellation")
            progress(0.4)
            raise AssertionError

        monkeypatch.setattr(analyses, "report", broken_off)
        analyses.carry_out(UUID(again["id"]))
        found = Analysis.objects.get(id=again["id"])
        assert (found.status, found.share) == ("cancelled", 0.2)

    def test_one_of_which_nothing_is_heard_is_called_stalled(self, api: Api, plant: str) -> None:
        asked = api.post(f"{plant}/analyses", {"system": "UH-1"}).json()
        Analysis.objects.update(status="running", touched=timezone.now() - timedelta(minutes=5))
        assert api.get(f"{plant}/analyses/{asked['id']}").json()["status"] == "stalled"
        assert api.post(f"{plant}/analyses", {"system": "UH-1"}).json()["id"] != asked["id"]

    def test_readings_name_the_mistake(self, api: Api, plant: str, analysed: dict[str, Any]) -> None:
        place = f"{plant}/analyses/{analysed['id']}/diagnoses"
        sound = api.post(place, {"readings": []}).json()
        assert sound["suspects"][0]["id"] is None
        on = next(i for i, trial in enumerate(analysed["report"]["trials"]) if trial["on"] == ["call:heat"])
        dead = [{"trial": on, "watched": "UH-1.HEAT", "on": False},
                {"trial": on, "a": "UH-1.stat.W", "b": "UH-1.stat.R", "volts": 23.8}]  # fmt: skip
        found = api.post(place, {"readings": dead}).json()
        assert found["suspects"][0]["id"] in ("open/TC-3/red", "open/TC-3/white")

    @pytest.mark.parametrize(("reading", "says"), [
        ({"trial": 99, "a": "UH-1.stat.W", "b": "UH-1.stat.R", "volts": 1}, "there is no trial 99"),
        ({"trial": 0, "a": "UH-1.stat.W", "b": "X.y.Z", "volts": 1}, "X.y.Z is not among the readings"),
        ({"trial": 0, "watched": "UH-1.HR", "on": True}, "UH-1.HR is nothing that one sees running"),
    ])  # fmt: skip
    def test_a_reading_that_cannot_be_is_named(
        self, api: Api, plant: str, analysed: dict[str, Any], reading: dict[str, Any], says: str
    ) -> None:
        refused = api.post(f"{plant}/analyses/{analysed['id']}/diagnoses", {"readings": [reading]})
        assert refused.status_code == 422
        assert says in refused.json()["detail"]

    def test_the_control_sheet(self, api: Api, plant: str, tmp_path: Path, analysed: dict[str, Any]) -> None:
        text = text_of(api.get(f"{plant}/controls.pdf?system=UH-1").content, tmp_path)
        assert "Qualified and licensed persons only" in text
        assert "heat relay of UH-1" in text
        assert "Readings that expose every slip" in text
        vault = text_of(api.get(f"{plant}/controls.pdf?system={VAULT}").content, tmp_path)
        for words in ("must stop: goes on", "Never look into an ultraviolet lamp", "Turn the high-limit humidistat",
                      "Accessory", "the humidistat HS-1"):  # fmt: skip
            assert words.lower() in vault.lower()
        assert "Readings that expose" not in vault, "not worked out for this system"
        assert api.get(f"{plant}/controls.pdf?system=NO-1").status_code == 404


@pytest.mark.django_db(transaction=True)
def test_the_worker_carries_out_what_waits(api: Api, plant: str) -> None:
    asked = api.post(f"{plant}/analyses", {"system": "UH-2"}).json()
    subprocess.run([*worker_command(), "--one-shot"], env=worker_environment(), check=True, capture_output=True)
    assert api.get(f"{plant}/analyses/{asked['id']}").json()["status"] == "done"
