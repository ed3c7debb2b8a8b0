"""Level 1, read a plate and size: a model of the catalogue on a run that is drawn by lot."""

from __future__ import annotations

from collections.abc import Iterator
from random import Random
from typing import Any

from leitung_core.catalogue.models import Model, shipped_models
from leitung_core.circuits.result import CircuitResult
from leitung_core.circuits.size import size
from leitung_core.circuits.spec import SIZES_IN_ORDER, Nameplate, Spec
from leitung_core.explain import Step
from leitung_core.practice.model import AskedFigure, Mark, SizeTask
from leitung_core.units import say, say_size
from leitung_core.validation import read

LENGTHS_FT = (25.0, 40.0, 60.0, 85.0, 120.0, 160.0)
AMBIENTS_C = (24.0, 30.0, 36.0, 42.0, 48.0)
PLACES = {24.0: "interior", 30.0: "interior", 36.0: "outdoor", 42.0: "attic", 48.0: "attic"}
SUPPLIES = {1: (240.0, 120.0), 3: (208.0, 120.0)}
NEIGHBOURS = 2
MARKS: tuple[tuple[str, str, str], ...] = (
    ("volts", "Volts", " V"), ("phase", "Phase", ""), ("mca_a", "Minimum circuit ampacity", " A"),
    ("max_ocpd_a", "Maximum fuse or breaker", " A"), ("min_ocpd_a", "Minimum fuse or breaker", " A"),
    ("amps", "Amperes", " A"), ("watts", "Watts", " W"),
)  # fmt: skip


def kinds() -> list[str]:
    """The kinds of unit of which there is a model that can be sized."""
    return list(dict.fromkeys(model.kind for model in _models()))


def _models() -> Iterator[Model]:
    return (model for model in shipped_models() if model.nameplate.phase is not None and not _at_once(model))


def _at_once(model: Model) -> bool:
    """A cord is chosen by other rules than a run, and a 120 V unit by a supply of its own."""
    return (
        bool(model.cord_connected) or "115" in (model.nameplate.volts or "") or "120" in (model.nameplate.volts or "")
    )


def size_a_plate(kind: str, seed: int) -> SizeTask | None:
    """A round of a kind of unit; the same for the same seed. None where nothing of it can be sized."""
    random = Random(f"{kind} {seed}")
    models = [model for model in _models() if model.kind == kind]
    for model in random.sample(models, len(models)):
        spec = _spec(model, random)
        result = size(spec)
        if result.conductor and result.min_ampacity_a and result.ocpd_a and not _stops(result):
            return SizeTask(plate=list(_plate(model.nameplate)), run=_run(spec), asked=list(_asked(result)))
    return None


def _stops(result: CircuitResult) -> bool:
    return any(finding.severity == "stop" for finding in result.findings)


def _spec(model: Model, random: Random) -> Spec:
    ambient = random.choice(AMBIENTS_C)
    volts, ground = SUPPLIES[model.nameplate.phase or 1]
    stretch: dict[str, Any] = {
        "method": "THWN-2", "raceway": "EMT", "material": "Cu", "construction": "stranded",
        "terminations_c": random.choice((60, 75)), "ambient_c": ambient, "length_ft": random.choice(LENGTHS_FT),
        "place": PLACES[ambient], "current_carrying": random.choice((2, 3, 4, 6)),
    }  # fmt: skip
    unit: dict[str, Any] = {"kind": model.kind, "nameplate": model.nameplate.model_dump(exclude_none=True)}
    if model.heat_with_cooling is not None:
        unit["heat_with_cooling"] = model.heat_with_cooling
    supply = {"volts": volts, "phase": model.nameplate.phase, "volts_to_ground": ground}
    return read(Spec, {"occupancy": "commercial", "supply": supply, "equipment": unit, "run": [stretch]})


def _plate(plate: Nameplate) -> Iterator[Mark]:
    for name, words, unit in MARKS:
        value = getattr(plate, name)
        if value is not None:
            yield Mark(mark=words, value=f"{value if isinstance(value, str | int) else say(value)}{unit}")
    for compressor in plate.compressors or ():
        yield Mark(mark="Compressor", value=f"{say(compressor.rla_a)} A RLA" if compressor.rla_a else "not marked")
    for motor in plate.motors or ():
        yield Mark(mark=motor.use.replace("_", " ").capitalize(), value=f"{say(motor.fla_a)} A FLA")
    if plate.heat is not None:
        at = f" at {say(plate.heat.rated_volts)} V" if plate.heat.rated_volts else ""
        yield Mark(mark="Electric heat", value=f"{say(plate.heat.watts / 1000)} kW{at}")


def _run(spec: Spec) -> list[str]:
    stretch, supply = spec.run[0], spec.supply
    return [
        f"{say(supply.volts or 0)} V, {supply.phase} phase",
        f"{stretch.method} copper in {stretch.raceway}, {say(stretch.length_ft or 0)} ft",
        f"{say(stretch.ambient_c or 0)} °C around it, {stretch.current_carrying} conductors carry current",
        f"terminals marked {stretch.terminations_c} °C",
    ]


def _asked(result: CircuitResult) -> Iterator[AskedFigure]:
    def steps(part: str) -> list[Step]:
        return [step for step in result.steps if step.part.partition("[")[0] == part]

    least, conductor = result.min_ampacity_a or 0.0, result.conductor or ""
    yield AskedFigure(id="carry", says="The conductors must carry, at least", unit="A", right=least, choices=[],
                steps=steps("load"))  # fmt: skip
    device = result.ocpd_a or 0.0
    yield AskedFigure(
        id="device", says="The breaker to put in", unit="A", right=device, choices=[], steps=steps("ocpd")
    )
    place = SIZES_IN_ORDER.index(conductor)
    near = SIZES_IN_ORDER[max(0, place - NEIGHBOURS) : place + NEIGHBOURS + 1]
    yield AskedFigure(id="wire", says="The least conductor", unit="", right=say_size(conductor),
                choices=[say_size(each) for each in near], steps=steps("run"))  # fmt: skip
