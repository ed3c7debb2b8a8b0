"""Every family of load against cases worked by hand, and the rules that hold for all of them."""

import json
from pathlib import Path
from typing import Any

import pytest
from leitung_core.catalogue import Model, shipped_models
from leitung_core.circuits import size_document
from leitung_core.plan.patch import merge

from tests.core.documents import codes, document, segment

CASES = json.loads((Path(__file__).parent.parent / "published" / "families.json").read_text())


def of_case(case: dict[str, Any]) -> dict[str, Any]:
    proposed = {"ocpd_a": None, "ocpd_type": "breaker", "disconnect_a": 100} | case.get("proposed", {})
    more = {name: case[name] for name in ("supply", "amendments", "occupancy", "rulebook") if name in case}
    found = document([segment(**case.get("run", {}))], kind=case["kind"], proposed=proposed, **more)
    found["equipment"]["nameplate"] = {"volts": "208/230", "phase": 1} | case["plate"]
    found["equipment"] |= {k: case[k] for k in ("heat_with_cooling", "cord_connected", "quantity") if k in case}
    return found


@pytest.mark.parametrize("case", CASES, ids=[case["name"] for case in CASES])
def test_worked_case(case: dict[str, Any]) -> None:
    result = size_document(of_case(case))
    found = {name: getattr(result, name) for name in case["expect"]}
    expected = {k: pytest.approx(v, abs=1e-6) if isinstance(v, float) else v for k, v in case["expect"].items()}
    assert found == expected
    assert codes(result, "stop") == []
    assert set(case.get("findings", [])) <= set(codes(result))


NOMINAL = {"115": 120, "120": 120, "208": 208, "230": 240, "240": 240, "277": 277, "460": 480, "480": 480}
TO_GROUND = {120: 120, 208: 120, 240: 120, 277: 277, 480: 277}


def of_model(model: Model) -> dict[str, Any]:
    volts = NOMINAL[(model.nameplate.volts or "").rpartition("/")[2]]
    phase = model.nameplate.phase or 1
    volts = 208 if phase == 3 and volts == 240 else volts
    run = [segment(method="THWN-2", raceway="EMT", length_ft=60, current_carrying=3)]
    found = document(run, kind=model.kind, supply={"volts": volts, "phase": phase, "volts_to_ground": TO_GROUND[volts]})
    found["proposed"] = {"ocpd_type": "breaker", "receptacle_a": 50}
    found["equipment"] = model.model_dump(exclude={"maker", "model", "name"}, exclude_none=True)
    return found


@pytest.mark.parametrize("model", shipped_models(), ids=lambda model: model.model)
def test_every_catalogue_model_is_sized_and_every_choice_passes_its_own_check(model: Model) -> None:
    doc = of_model(model)
    result = size_document(doc)
    assert result.ocpd_a in result.ocpd_choices_a
    assert result.conductor is not None
    assert codes(result, "stop") in ([], ["fuse-only"])
    assert result.alternatives
    for choice in result.alternatives:
        taken = size_document(merge(doc, choice.patch))
        assert set(codes(taken, "stop")) <= {"disconnect-small", "fuse-only"}, choice
        assert choice.material
        assert choice.metal_lb


def test_the_125_percent_is_in_the_mark_already() -> None:
    """Domain 1.1: an MCA as it stands, also where the plate gives the marks from which it came."""
    marks = {"compressors": [{"rla_a": 7.0}], "motors": [{"fla_a": 0.8, "use": "condenser_fan"}]}
    assert size_document(document(plate=marks)).min_ampacity_a == 11.0


def test_what_the_plate_does_not_say_is_named_never_guessed() -> None:
    for kind in ("air_handler", "unit_heater", "steam_humidifier", "dehumidifier", "condensate_pump", "feeder"):
        bare = document(kind=kind) | {"equipment": {"kind": kind, "nameplate": {"volts": "240", "phase": 1}}}
        result = size_document(bare)
        assert (result.min_ampacity_a, result.ocpd_a, result.conductor) == (None, None, None)
        assert "plate-load-missing" in codes(result, "warning")
