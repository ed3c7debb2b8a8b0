"""A line drawn on its terminals: breaker, switch, unit and the cables between them, landed by the convention.

Planned on Lines, a stretch and its cable are one thing: drawing the line makes both, and changing its run keeps them in
step.
"""

from __future__ import annotations

from typing import Any

from leitung_core.catalogue.cables import FAMILY_OF_METHOD
from leitung_core.catalogue.device import shipped_devices
from leitung_core.circuits.loads.load import OUTDOOR
from leitung_core.plan.model import Circuit, Plan, dump_plan, read_plan
from leitung_core.plan.patch import joined, merge
from leitung_core.plant.lines import Line, is_origin, units_devices
from leitung_core.plant.plant import Plant
from leitung_core.plant.poles import poles_of
from leitung_core.wiring.propose import propose_landings

Patch = dict[str, Any]
ANY_UNIT = "unit"


def draw_power(plant: Plant, line_id: str) -> Patch | None:
    """The change that draws a line's power on its terminals; None where its poles, its run or its end are not known.

    What is drawn already stays as it is.
    """
    line = plant.lines[line_id]
    poles = poles_of(line.circuit, line.source, line.unit)
    begun = bool(line.path) and is_origin(plant, line.path[0])
    if line.source is None or poles is None or not line.circuit.run or (begun and line.cables):
        return None
    if line.unit is None and line.circuit.feeds is None:
        return None
    drawn = _Drawn(plant, line, poles)
    drawn.carry_out()
    return drawn.patch


class _Drawn:
    """The plan as the line is drawn into it."""

    def __init__(self, plant: Plant, line: Line, poles: int) -> None:
        self.plant, self.line, self.poles = plant, line, poles
        self.patch: Patch = {}
        source = line.source
        self.neutral = poles == 1 or line.circuit.feeds is not None
        self.plug = bool(line.unit and line.unit.cord_connected)
        self.place = source.place if source else None

    def carry_out(self) -> None:
        """Breaker, switch and unit, then what lies between them."""
        line = self.line
        first = self._mine("panel") or self._device("B", f"breaker-{self.poles}", f"breaker of {line.id}", self.place,
                                                   source=line.circuit.source, circuit=line.id)  # fmt: skip
        landed = {stretch.key for stretch in line.stretches if stretch.cable}
        names = [name for name, _ in line.circuit.segments() if name not in landed]
        if line.cables:
            self._cable("P", first, line.path[0], names)
            return
        last = next(iter(units_devices(self.plant, line.circuit)), None) or self._end()
        if line.circuit.feeds is not None:
            self._cable("P", first, last, names)
            return
        switch = self._mine("disconnect") or self._switch()
        at = len(names) if self.plug else self._before_switch(line.circuit)
        self._cable("P", first, switch, names[:at])
        if not self.plug:
            self._cable("W", switch, last, names[at:])

    def _change(self, patch: Patch) -> None:
        self.patch = joined(self.patch, patch)
        self.plant = Plant(read_plan(merge(dump_plan(self.plant.plan), patch)))

    def _mine(self, group: str) -> str | None:
        """The line's own device of a group that is drawn already."""
        devices = self.plant.plan.devices
        return next(
            (key for key, kind in self.plant.types.items()
             if devices[key].circuit == self.line.id and kind.group == group and kind.id != "feeder-lugs"), None,
        )  # fmt: skip

    def _device(self, stem: str, kind: str, name: str, place: str | None, **more: str | None) -> str:
        key = self._free("devices", f"{stem}-{self.line.id}")
        entry = {"type": kind, "name": name, "place": place, **more}
        self._change({"devices": {key: {field: value for field, value in entry.items() if value is not None}}})
        return key

    def _free(self, group: str, wanted: str) -> str:
        taken, number = getattr(self.plant.plan, group), 1
        key = wanted[:32]
        while key in taken:
            number += 1
            key = f"{wanted[:28]}-{number}"
        return key

    def _end(self) -> str:
        """The far end: the lugs of the panel that is fed, or the unit with its power terminals alone."""
        circuit, unit = self.line.circuit, self.line.unit
        if circuit.feeds is not None:
            fed = self.plant.plan.sources[circuit.feeds]
            name = f"main lugs of {fed.name or circuit.feeds}"
            return self._device("L", "feeder-lugs", name, fed.place, source=circuit.feeds, circuit=self.line.id)
        kind = f"unit-{self.poles}-neutral" if self.neutral else f"unit-{self.poles}"
        wanted = circuit.equipment or self.line.id
        key = self._free("devices", wanted)
        spot = "outdoor" if unit and unit.kind in OUTDOOR else None
        entry = {"type": kind, "name": unit.name if unit else None, "place": unit.place if unit else None,
                 "spot": spot, "equipment": circuit.equipment}  # fmt: skip
        self._change({"devices": {key: {field: value for field, value in entry.items() if value is not None}}})
        return key

    def _switch(self) -> str:
        if self.plug:
            return self._device("R", "receptacle", f"receptacle of {self.line.id}", None, circuit=self.line.id)
        kind = "disconnect-1-neutral" if self.neutral else f"disconnect-{self.poles}"
        place = self.line.unit.place if self.line.unit else None
        return self._device("D", kind, f"disconnect of {self.line.id}", place, circuit=self.line.id)

    def _before_switch(self, circuit: Circuit) -> int:
        """How many stretches lie before the switch: all but a flexible whip or a cord at the end."""
        segments = [segment for _, segment in circuit.segments()]
        raceway = self.plant.book.raceways.get(segments[-1].raceway or "")
        whip = segments[-1].method == "cord" or bool(raceway and raceway.flexible)
        return len(segments) - 1 if whip and len(segments) > 1 else len(segments)

    def _cable(self, stem: str, one: str, two: str, names: list[str]) -> None:
        """A cable that is these stretches of the run; with none of its own, the end of the last one."""
        segments = dict(self.line.circuit.segments())
        like = segments[names[-1]] if names else list(segments.values())[-1]
        family = FAMILY_OF_METHOD.get(like.method or "", "singles")
        lines = self.poles + self.neutral
        if family == "singles" and self.neutral:
            family = "singles-neutral"
        if family == "nm-b" or family == "uf-b":
            lines = max(lines, 2)
        key = self._free("cables", f"{stem}-{self.line.id}")
        ends = {"a": {"device": one, **_strip(self.plant, one, "load")},
                "b": {"device": two, **_strip(self.plant, two, "line")}}  # fmt: skip
        cable = {**ends, "circuit": self.line.id, "segments": names, "family": family, "count": lines + 1}
        self._change({"cables": {key: cable}})
        self._change(propose_landings(self.plant, key).patch)


def _strip(plant: Plant, device: str, side: str) -> Patch:
    """The side of a switch on which a cable ends."""
    kind = plant.types[device]
    by_side = {"receptacle": {"line": "scr", "load": "slot"}}
    if kind.group != "disconnect":
        return {}
    return {"strip": by_side.get(kind.id, {}).get(side, side)}


def is_any_unit(kind_id: str | None) -> bool:
    """Whether a device is a unit of which only the power terminals are known yet."""
    kind = shipped_devices().get(kind_id or "")
    return kind is not None and kind.group == ANY_UNIT


def drawn_along(before: Plan, after: Plan) -> Patch:
    """What a change of lines brings with it on their terminals: new ones drawn, cables in step with their run."""
    patch = _in_step(after)
    fresh = [
        key for key in after.circuits if _whole(after, key) and not (key in before.circuits and _whole(before, key))
    ]
    plan = read_plan(merge(dump_plan(after), patch)) if patch else after
    for key in fresh:
        plant = Plant(plan)
        line = plant.lines[key]
        if line.path or any(device.circuit == key for device in plan.devices.values()):
            continue
        drawn = draw_power(plant, key)
        if drawn:
            patch = joined(patch, drawn)
            plan = read_plan(merge(dump_plan(plan), drawn))
    return patch


def _whole(plan: Plan, key: str) -> bool:
    """Whether a line runs from a source that is known to a unit or a panel."""
    circuit = plan.circuits[key]
    source = plan.sources.get(circuit.source or "")
    ends = circuit.equipment is not None or circuit.feeds is not None
    unit = plan.equipment.get(circuit.equipment or "")
    return ends and bool(circuit.run) and poles_of(circuit, source, unit) is not None


def _in_step(plan: Plan) -> Patch:
    """Each drawn line's cables with the stretches that its run has now."""
    cables: Patch = {}
    for key, circuit in plan.circuits.items():
        mine = {name: list(cable.segments) for name, cable in plan.cables.items()
                if cable.circuit == key and cable.segments is not None}  # fmt: skip
        if not mine:
            continue
        order = [name for name, _ in circuit.segments()]
        wanted = {name: [part for part in parts if part in order] for name, parts in mine.items()}
        there = {part: name for name, parts in wanted.items() for part in parts}
        for at, part in enumerate(order):
            if part in there:
                continue
            near = [there[other] for other in [*reversed(order[:at]), *order[at + 1 :]] if other in there]
            home = near[0] if near else next(iter(wanted))
            there[part] = home
            wanted[home] = [name for name in order if there.get(name) == home]
        cables |= {name: {"segments": parts} for name, parts in wanted.items() if parts != mine[name]}
    return {"cables": cables} if cables else {}
