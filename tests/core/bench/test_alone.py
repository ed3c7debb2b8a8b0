"""A device solved alone: the proof of a description, by hand for one and over everything that ships."""

from __future__ import annotations

from typing import Any

import pytest
from leitung_core.bench.alone import Proof, prove
from leitung_core.catalogue.device import read_device_type, shipped_devices

Json = dict[str, Any]


def fan_centre(*parts: Json) -> Proof:
    """R C G Y of a board, and a dry pair; 24 V behind half an ohm."""
    names = {"R": "hot", "C": "common", "G": "fan", "Y": "cool-1"}
    terminals = [{"id": name, "function": meaning} for name, meaning in names.items()]
    strip = {"id": "s", "name": "strip", "terminals": [*terminals, {"id": "1"}, {"id": "2"}]}
    return prove(
        read_device_type({"id": "fan", "name": "fan", "group": "relay", "strips": [strip], "inside": [*parts]})
    )


RELAY = [
    {"type": "coil", "id": "K", "name": "fan relay", "a": "s.G", "b": "s.C", "va": 6},
    {"type": "contact", "id": "N", "a": "s.1", "b": "s.2", "operated_by": "coil:K"},
]


def test_a_relay_by_hand() -> None:
    """6 VA at 24 V is 96 ohm: 24 x 96 / 96.5 V and its current."""
    proof = fan_centre(*RELAY)
    idle, fan, cool = proof.trials
    assert (proof.fed, proof.never) == ("Fed with 24 V at its own terminals.", [])
    assert (idle.says, idle.on, idle.moved, idle.against) == ("Nothing called", [], [], [])
    (coil,) = fan.on
    assert coil.name == "fan relay"
    assert coil.volts == pytest.approx(24 * 96 / 96.5, abs=0.1)
    assert coil.amps == pytest.approx(24 / 96.5, abs=0.002)
    assert (fan.moved, fan.against) == (["N closes"], [])
    assert cool.against == ["Nothing inside answers: it passes the call on, or an element is missing."]


@pytest.mark.parametrize(
    ("parts", "says"),
    [
        ([{"type": "fuse", "id": "F", "a": "s.G", "b": "s.C", "amps": 3}], "A and opens."),
        ([{"type": "coil", "id": "K", "a": "s.G", "b": "_1", "va": 6},
          {"type": "contact", "id": "N", "a": "_1", "b": "s.C", "normally": "closed", "operated_by": "coil:K"}],
         "A relay never comes to rest."),
    ],
)  # fmt: skip
def test_what_does_not_work_is_said(parts: list[Json], says: str) -> None:
    assert any(says in words for words in fan_centre(*parts).trials[1].against)


def test_a_coil_that_nothing_reaches_is_named() -> None:
    proof = fan_centre(*RELAY, {"type": "coil", "id": "X", "a": "s.1", "b": "s.C", "va": 5})
    assert proof.never == ["X"]


def test_each_device_that_ships_works_alone() -> None:
    """Nothing opens, is overloaded or chatters; what has a supply and a contactor runs what it is to run."""
    for key, kind in shipped_devices().items():
        for trial in prove(kind).trials:
            wrong = [words for words in trial.against if "Nothing inside answers" not in words]
            assert not wrong, (key, trial.says)
    handler = {trial.says: trial for trial in prove(shipped_devices()["air-handler-board"]).trials}
    assert {"blower", "fan relay"} <= {load.name for load in handler["Fan called"].on}
    assert "heater" in {load.name for load in handler["Heat called"].on}
    stat = {trial.says: trial.live for trial in prove(shipped_devices()["stat-universal"]).trials}
    assert stat["Cool called"] == ["Y1", "G", "O/B"]
