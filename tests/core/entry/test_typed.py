"""Quantities typed into fields of a plan: read where they are typed, refused at their field."""

from __future__ import annotations

from typing import Any

import pytest
from leitung_core.entry.typed import understood
from leitung_core.errors import InputError


@pytest.mark.parametrize(
    ("patch", "read"),
    [
        ({"circuits": {"C": {"run": {"s1": {"length_ft": "24 m", "ambient_c": "95F"}}}}},
         {"circuits": {"C": {"run": {"s1": {"length_ft": 78.7402, "ambient_c": 35.0}}}}}),
        ({"circuits": {"C": {"ocpd": {"rating_a": "15 A"}, "name": "15 A"}}},
         {"circuits": {"C": {"ocpd": {"rating_a": 15.0}, "name": "15 A"}}}),
        ({"equipment": {"U": {"nameplate": {"heat": {"watts": "7.5 kW", "rated_volts": "240V"}}}}},
         {"equipment": {"U": {"nameplate": {"heat": {"watts": 7500.0, "rated_volts": 240.0}}}}}),
        ({"equipment": {"U": {"nameplate": {"volts": "208/230-1-60"}}}},
         {"equipment": {"U": {"nameplate": {"volts": "208/230", "phase": 1}}}}),
        ({"equipment": {"U": {"nameplate": {"volts": "230V", "phase": 3}}}},
         {"equipment": {"U": {"nameplate": {"volts": "230", "phase": 3}}}}),
        ({"equipment": {"U": {"nameplate": {"compressors": [{"rla_a": "18 A"}]}}}},
         {"equipment": {"U": {"nameplate": {"compressors": [{"rla_a": 18.0}]}}}}),
        ({"site": {"permit_date": "11/25/2026"}, "circuits": {"C": None}},
         {"site": {"permit_date": "2026-11-25"}, "circuits": {"C": None}}),
        ({"circuits": {"C": {"run": {"s1": {"length_ft": 38, "conductor": "#12 AWG"}}}}},
         {"circuits": {"C": {"run": {"s1": {"length_ft": 38, "conductor": "12"}}}}}),
        # Not likely, but said with its unit.
        ({"equipment": {"U": {"nameplate": {"heat": {"watts": "7.5 W"}}}}},
         {"equipment": {"U": {"nameplate": {"heat": {"watts": 7.5}}}}}),
    ],
)  # fmt: skip
def test_what_is_typed_becomes_the_plans_value(patch: dict[str, Any], read: dict[str, Any]) -> None:
    assert understood(patch) == read


@pytest.mark.parametrize(
    ("patch", "field", "value", "told"),
    [
        ({"circuits": {"C": {"run": {"s1": {"length_ft": "far"}}}}}, "circuits.C.run.s1.length_ft", "far", "no number"),
        ({"circuits": {"C": {"ocpd": {"rating_a": "15 V"}}}}, "circuits.C.ocpd.rating_a", "15 V", "is in V"),
        ({"equipment": {"U": {"nameplate": {"heat": {"watts": 7.5}}}}},
         "equipment.U.nameplate.heat.watts", 7.5, "7.5 kW"),
        ({"sources": {"P": {"volts": "208/230"}}}, "sources.P.volts", "208/230", "more than one"),
    ],
)  # fmt: skip
def test_what_cannot_be_is_named_at_its_field(patch: dict[str, Any], field: str, value: object, told: str) -> None:
    with pytest.raises(InputError) as refused:
        understood(patch)
    (problem,) = refused.value.problems
    assert (problem.field, problem.value) == (field, value)
    assert told in problem.message
    assert problem.remedy
