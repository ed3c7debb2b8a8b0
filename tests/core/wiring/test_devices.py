"""The devices that ship: each fits the published schema, and a file that does not fit is refused in words."""

from __future__ import annotations

import csv
import json
from importlib.resources import files
from pathlib import Path
from typing import Any

import jsonschema
import pytest
from leitung_core.catalogue.cables import cable_families
from leitung_core.catalogue.device import function_of, read_device_type, shipped_devices
from leitung_core.errors import InputError

DOCS = Path(__file__).resolve().parents[3] / "docs"
SCHEMA = json.loads((DOCS / "device.schema.json").read_text("utf-8"))
RAW = {
    path.name: json.loads(path.read_text("utf-8"))
    for path in files("leitung_core.catalogue").joinpath("devices").iterdir()
}


def test_there_are_devices_of_every_group_that_a_crew_meets() -> None:
    groups = {kind.group for kind in shipped_devices().values()}
    assert len(shipped_devices()) >= 40
    assert groups == {"outdoor unit", "indoor unit", "board", "thermostat", "humidity", "relay", "transformer",
                      "safety", "lamp", "pump", "starter", "disconnect", "panel", "joint", "unit"}  # fmt: skip


@pytest.mark.parametrize("name", sorted(RAW))
def test_each_file_fits_the_published_schema(name: str) -> None:
    jsonschema.validate(RAW[name], SCHEMA)


def test_units_and_their_boards_are_one_make() -> None:
    """A device that stands for a unit bears a maker's and a model's name that the plates know."""
    text = files("leitung_core.catalogue").joinpath("models.csv").read_text("utf-8")
    models = {(row["maker"], row["model"], row["kind"]) for row in csv.DictReader(text.splitlines())}
    known = {(maker, kind) for maker, _, kind in models}
    for kind in shipped_devices().values():
        for unit in kind.kinds if kind.group != "unit" else ():
            if (kind.maker, kind.model, unit) not in models:
                assert kind.maker == "Corrimoor" or (kind.maker, unit) in known, kind.id


def test_a_strip_hands_down_what_a_terminal_does_not_say() -> None:
    board = shipped_devices()["air-handler-board"].terminals()
    assert (board["ctl.R"].takes, board["ctl.R"].hardware) == (2, "screw")
    assert shipped_devices()["disconnect-2"].terminals()["gnd.G"].takes == 4


def test_a_setting_says_what_a_terminal_is_for() -> None:
    kind = shipped_devices()["stat-universal"]
    valve = kind.terminals()["base.OB"]
    assert function_of(valve, kind, {}) == "valve-cool"
    assert function_of(valve, kind, {"valve": "heating"}) == "valve-heat"
    assert function_of(kind.terminals()["acc.A1"], kind, {}) is None


def test_every_cable_that_a_device_asks_for_is_made() -> None:
    for kind in shipped_devices().values():
        for rule in kind.cables:
            assert set(rule.families) <= set(cable_families())
            for family in rule.families:
                assert rule.conductors is None or rule.conductors in cable_families()[family].counts()


def broken(**change: Any) -> dict[str, Any]:
    terminals = [{"id": "R", "function": "hot"}, {"id": "C", "function": "common"}]
    return {
        "id": "own", "name": "own", "group": "thermostat",
        "strips": [{"id": "base", "name": "base", "terminals": terminals}],
        "inside": [{"type": "load", "id": "B", "a": "base.R", "b": "base.C"}], **change,
    }  # fmt: skip


@pytest.mark.parametrize(
    ("change", "field", "value"),
    [
        ({"group": "toaster"}, "own.group", "toaster"),
        ({"strips": []}, "own.strips", "list"),
        ({"inside": [{"type": "load", "id": "B", "a": "base.R", "b": "base.X"}]}, "own.inside.B", "base.X"),
        ({"inside": [{"type": "spark", "id": "B"}]}, "own.inside.0", "dict"),
        ({"poles": [["base.R", "load.T1"]]}, "own.poles", "load.T1"),
        ({"cables": [{"strips": ["bus"], "source": "manual"}]}, "own.cables", "bus"),
        ({"strips": [{"id": "base", "name": "b", "terminals": [{"id": "R", "function": "warm"}]}], "inside": []},
         "own.strips.base.R", "warm"),
        ({"strips": [{"id": "base", "name": "b", "terminals": [{"id": "R"}, {"id": "R"}]}], "inside": []},
         "own.strips", "base.R"),
        ({"strips": [{"id": "base", "name": "b", "terminals": [{"id": "R", "function_by": {"x": {"1": "hot"}}}]}],
          "inside": []}, "own.strips.base.R", "x"),
    ],
)  # fmt: skip
def test_a_device_that_does_not_fit_is_refused_with_field_and_remedy(
    change: dict[str, Any], field: str, value: str
) -> None:
    with pytest.raises(InputError) as error:
        read_device_type(broken(**change), "own")
    problem = error.value.problems[0]
    assert (problem.field, problem.value) == (field, value)
    assert problem.remedy


def test_the_sound_one_is_read() -> None:
    assert read_device_type(broken(), "own").id == "own"
