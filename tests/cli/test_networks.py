"""The solver's commands: a bare network, a plan's network, a plan under calls, its mistakes."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest

from tests.cli.test_commands import run
from tests.core.patterns.test_patterns import ROOFTOP, placed
from tests.core.solver.networks import LINE, board, coil, stat, state, supply, wires

BARE = {
    "reference": "PS.N", "devices": [supply(), board(coil("FR", "G", "C"), fuse_a=3), stat()],
    "conductors": wires(*LINE, "FB.R TS.R 0.3", "FB.G TS.G 0.3", "FB.C TS.O 0.3"),
    "states": [state(), state("call:fan", probes=["FB.G FB.C", "FB.Y FB.C"]), state("call:valve")],
}  # fmt: skip


@pytest.fixture(scope="module")
def rooftop(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A rooftop unit with its smoke detector, as a file."""
    file = tmp_path_factory.mktemp("plans") / "rooftop.json"
    file.write_text(json.dumps(placed(ROOFTOP, "detector-loop")[0]))
    return file


def answer(*arguments: str, stdin: str = "", code: int = 0) -> Any:
    done = run(*arguments, stdin=stdin)
    assert done.returncode == code, done.stderr
    return json.loads(done.stdout)


def test_a_bare_network_is_solved_and_a_list_of_them_by_a_list() -> None:
    found = answer("solve", "-", "--json", stdin=json.dumps(BARE))
    idle, fan, short = found["states"]
    assert [entry["name"] for entry in found["states"]] == ["idle", "call:fan", "call:valve"]
    assert fan["probes"][0] == {"from": "FB.G", "to": "FB.C", "volts": pytest.approx(23.3, abs=0.2), "floating": False}
    assert fan["probes"][1] == {"from": "FB.Y", "to": "FB.C", "volts": None, "floating": True}
    assert (idle["after_fuse"], short["after_fuse"]["opened"]) == (None, ["FB.F1"])
    assert "SHORTED_SECONDARY" in short["hazards"]
    many = answer("solve", "-", "--json", stdin=json.dumps([BARE, BARE]))
    assert [entry["states"] for entry in many] == [found["states"]] * 2


def test_what_cannot_be_read_is_named_with_code_2() -> None:
    wrong = {**BARE, "intent": {"FB.FR": "call:fan and"}, "reference": "PS.Q"}
    done = run("solve", "-", stdin=json.dumps(wrong))
    assert done.returncode == 2
    assert "reference: there is no such terminal ('PS.Q')" in done.stderr
    assert "intent.FB.FR: cannot be read at 'its end'" in done.stderr
    second = run("solve", "-", stdin=json.dumps([BARE, {"devices": [{"id": "A", "inside": [{"type": "spark"}]}]}]))
    assert second.returncode == 2
    assert second.stderr.startswith("[1].devices.0.inside.0")


def test_a_netlist_of_a_state_and_of_what_its_fuse_leaves(tmp_path: Path) -> None:
    file = tmp_path / "net.json"
    file.write_text(json.dumps(BARE))
    whole, after = (
        run("netlist", str(file), "--state", "call:valve", *more).stdout for more in ((), ("--after-fuse",))
    )
    assert "* FB.F1" in whole
    assert "* FB.F1" not in after
    assert run("netlist", str(file), "--state", "none").returncode == 2


def test_a_plans_network_solves_to_what_the_plan_simulates(rooftop: Path) -> None:
    net = answer("network", str(rooftop), "--json")
    probe = {"from": "A.ctl.R", "to": "A.ctl.C"}
    net["states"] = [{"name": "x", "on": ["call:cool", "call:fan"], "at_s": 600, "probes": [probe]}]
    solved = answer("solve", "-", "--json", stdin=json.dumps(net))["states"][0]
    found = answer("simulate", str(rooftop), "--calls", "cool,fan", "--probe", "A.ctl.R:A.ctl.C", "--json")
    assert found["probes"] == solved["probes"]
    assert found["loads"] == solved["loads"]
    assert found["findings"] == []
    running = {f"{part['device']}.{part['element']}" for part in found["loads"] if part["energised"]}
    assert {"A.CC1", "A.FR", "A.COMP1-12", "A.BLOWER-31"} <= running


def test_smoke_stops_the_unit_and_a_jumper_left_in_is_a_stop(rooftop: Path, tmp_path: Path) -> None:
    sound = answer("simulate", str(rooftop), "--calls", "cool,fan", "--causes", "smoke", "--json")
    assert not any(part["energised"] for part in sound["loads"] if part["device"] == "A")
    plan = json.loads(rooftop.read_text())
    plan["devices"]["A"]["settings"]["stop-jumper"] = "in"
    file = tmp_path / "jumper.json"
    file.write_text(json.dumps(plan))
    found = answer("simulate", str(file), "--calls", "cool,fan", "--causes", "smoke", "--json", code=1)
    assert {row["hazard"] for row in found["findings"]} == {"INTERLOCK_INEFFECTIVE"}
    off = answer("simulate", str(file), "--calls", "fan", "--off", "MA", "--json")
    assert not any(part["energised"] for part in off["loads"])


def test_the_mistakes_with_their_harms_and_the_tests_chosen(rooftop: Path) -> None:
    found = answer("mistakes", str(rooftop), "--json")
    harms = {row["id"]: row["harm"] for row in found["mistakes"]}
    assert harms["set/A/stop-jumper/in"] == "unsafe"
    exposed = {row["id"] for row in found["mistakes"] if row["exposed_by"] or row["exposed_before"]}
    assert exposed | set(found["hidden"]) == set(harms)
    assert len(found["tests"]) < 30
    text = run("mistakes", str(rooftop)).stdout
    assert "a safety contact does nothing" in text
    assert "before power: Breakers off, locked and proved dead" in text
    assert "Qualified and licensed persons only" in text
