"""A pattern fitted to a plan: its devices put in, its cables drawn and landed, or what stands in the way.

A terminal that is full takes a pigtail; a contact is put into a line at a joint; a spare conductor that is not there is
said, with the larger cable as the way out.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from leitung_core.catalogue.cables import cable_families
from leitung_core.catalogue.device import shipped_devices
from leitung_core.control.network import systems
from leitung_core.elements.vocabulary import Contact
from leitung_core.findings import Way
from leitung_core.patterns.patterns import PartOf, Pattern, StepOf
from leitung_core.plan.model import dump_plan, read_plan
from leitung_core.plan.patch import joined, merge
from leitung_core.plan.wired import EndName
from leitung_core.plant.connectors import connector_for
from leitung_core.plant.plant import ENDS, Plant, Wire, other
from leitung_core.wiring.draw import is_any_unit
from leitung_core.wiring.exchange import become
from leitung_core.wiring.fixes import spare_wires
from leitung_core.wiring.replace import same_make_but

Patch = dict[str, Any]
JOINT = "joint-box"
LINE_AWG = "14"
THICKER = ("16", "14", "12", "10")  # than the 18 AWG of control cable
LINE_COLOURS = ("black", "red", "blue", "yellow", "brown", "orange")
OUTSIDE = ("outdoor", "roof")


@dataclass(frozen=True)
class Obstacle:
    """What a pattern lacks here, and the ways out."""

    says: str
    ways: tuple[Way, ...] = ()


@dataclass
class Fitted:
    """A pattern on a plan: the change, the devices of its parts, and what stands in the way."""

    pattern: Pattern
    parts: dict[str, str]
    patch: Patch = field(default_factory=dict)
    obstacles: list[Obstacle] = field(default_factory=list)


class _Stop(Exception):  # noqa: N818
    def __init__(self, obstacle: Obstacle) -> None:
        self.obstacle = obstacle


def candidates(plant: Plant, pattern: Pattern, near: str) -> dict[str, list[str]]:
    """For each part that must be there, the devices of the system around `near` that could take it.

    After them the units of that kind that have no device yet, or one of which only the power is known: fitting says
    what it is.
    """
    around = next((part for part in systems(plant) if near in part), frozenset({near}))
    return {
        name: sorted(
            (key for key, kind in plant.types.items() if _suits(plant, part, key) and kind is not None),
            key=lambda key: (key != near, key not in around, plant.types[key].group not in part.group, key),
        ) + _units(plant, part)
        for name, part in pattern.parts.items() if not part.new
    }  # fmt: skip


def _units(plant: Plant, part: PartOf) -> list[str]:
    """The units that such a device belongs to and that have none yet: by their device of power alone, or as units."""
    kind = shipped_devices().get(part.type or "")
    units = [key for key, unit in plant.plan.equipment.items() if kind and unit.kind in kind.kinds]
    drawn = {device.equipment: key for key, device in plant.plan.devices.items() if plant.types[key].kinds}
    bare = [drawn.get(unit, unit) for unit in units]
    return [key for key in bare if key not in plant.plan.devices or is_any_unit(plant.plan.devices[key].type)]


def _suits(plant: Plant, part: PartOf, key: str) -> bool:
    kind, device = plant.types[key], plant.plan.devices[key]
    if device.state == "removed" or (part.type is not None and kind.id != part.type):
        return False
    functions = {post.function for post in plant.posts_of(key)}
    # A unit that has a board's terminals is one: roof units and heaters bring theirs inside.
    groups = {*part.group, *(("unit", "outdoor unit", "indoor unit") if "board" in part.group else ())}
    return (not part.group or kind.group in groups) and set(part.needs) <= functions


def fit(
    plant: Plant, pattern: Pattern, near: str, chosen: Mapping[str, str] | None = None, length_ft: float = 10
) -> Fitted:
    """Fit a pattern around a device. `chosen` names devices for its parts; new cables are `length_ft` long."""
    found = Fitted(pattern, {})
    there = candidates(plant, pattern, near)
    for name, part in pattern.parts.items():
        if part.new:
            continue
        wanted = (chosen or {}).get(name)
        pick = wanted if wanted in there[name] else next(iter(there[name]), None)
        if pick is None:
            found.obstacles.append(Obstacle(_lacking(part)))
        elif pick != wanted and len(there[name]) > 1 and not _belongs(plant, pick, near):
            found.obstacles.append(Obstacle(f"Nothing at {near} takes this part. Choose: {', '.join(there[name])}."))
        else:
            found.parts[name] = pick
    if found.obstacles:
        return found
    try:
        _Work(plant, found, length_ft).carry_out()
    except _Stop as stop:
        found.obstacles.append(stop.obstacle)
        found.patch = {}
    return found


def _belongs(plant: Plant, key: str, near: str) -> bool:
    """Whether a device or a unit is of the system around another, or in its place: one elsewhere is asked for first."""
    around = next((part for part in systems(plant) if near in part), frozenset({near}))
    devices, units = plant.plan.devices, plant.plan.equipment
    places = {thing.place for thing in (devices.get(key), units.get(key)) if thing is not None}
    return key in around or (near in devices and devices[near].place in places - {None})


def _lacking(part: PartOf) -> str:
    kind = shipped_devices().get(part.type or "")
    what = f"No {kind.name}" if kind else f"No {' or '.join(part.group)} with {', '.join(part.needs)}"
    return f"{what} is in the plan. Put it in first."


class _Work:
    """The plan as it grows under a pattern's steps."""

    def __init__(self, plant: Plant, fitted: Fitted, length_ft: float) -> None:
        self.fitted, self.length_ft = fitted, length_ft
        self.before = dump_plan(plant.plan)
        self.plant = plant
        self.host = next(iter(fitted.parts.values()))
        self.cables: dict[tuple[str, str, bool], list[tuple[str, str]]] = {}
        self.at: dict[str, str] = {}  # boxes of joints, by the device beside which they lie

    def change(self, patch: Patch) -> None:
        self.fitted.patch = joined(self.fitted.patch, patch)
        self.plant = Plant(read_plan(merge(self.before, self.fitted.patch)))

    def carry_out(self) -> None:
        self._devices()
        for step in self.fitted.pattern.steps:
            self._step(step)
        for (one, two, line), pairs in self.cables.items():
            self._cable(one, two, line, pairs)
        self._pigtails()
        name = self._free("patterns", self.fitted.pattern.id)
        entry = {"pattern": self.fitted.pattern.id, "parts": self.fitted.parts}
        self.change({"patterns": {name: entry}})

    def _devices(self) -> None:
        parts = self.fitted.pattern.parts.items()
        for unit, kind in [(self.fitted.parts[name], part.type) for name, part in parts if not part.new]:
            there = self.plant.plan.devices.get(unit)
            if there is None:
                entry = {"type": kind, "equipment": unit, "place": self.plant.plan.equipment[unit].place}
                self.change({"devices": {unit: {name: value for name, value in entry.items() if value is not None}}})
            elif kind and is_any_unit(there.type):
                self.change(become(self.plant, unit, kind))
        host = self.plant.plan.devices[self.host]
        for name, part in parts:
            if not part.new:
                if part.settings:
                    self.change({"devices": {self.fitted.parts[name]: {"settings": part.settings}}})
                continue
            key = self._free("devices", part.prefix or "X")
            self.fitted.parts[name] = key
            kind = part.with_neutral if part.with_neutral and self._returns_on_neutral() else part.type
            about = {"type": kind, "place": host.place, "spot": host.spot, "equipment": host.equipment}
            entry = {field: value for field, value in about.items() if value is not None}
            self.change({"devices": {key: {**entry, "settings": part.settings} if part.settings else entry}})

    def _returns_on_neutral(self) -> bool:
        return any(post.function == "neutral" for post in self.plant.posts_of(self.host))

    def _free(self, group: str, base: str) -> str:
        taken, number = getattr(self.plant.plan, group), 1
        while f"{base}-{number}" in taken:
            number += 1
        return f"{base}-{number}"

    def _ref(self, text: str) -> str:
        """`device.strip.terminal` of a step's terminal. Raises _Stop where the device has none of that kind."""
        if ":" not in text:
            part, _, rest = text.partition(".")
            return f"{self.fitted.parts[part]}.{rest}"
        part, _, function = text.partition(":")
        key = self.fitted.parts[part]
        if function == "tap":
            return f"{key}.{self._tap(key)}"
        wanted = ("neutral", "line-2") if function == "return" else (function,)
        for name in wanted:
            post = next((post for post in self.plant.posts_of(key) if post.function == name), None)
            if post is not None:
                return post.ref
        raise _Stop(Obstacle(f"{self.plant.name(key)} has no terminal for {function}."))

    def _tap(self, key: str) -> str:
        """The tap of a lamp's transformer that matches the supply of the unit that feeds it."""
        host = self.plant.plan.devices[self.host]
        line = next((c for c in self.plant.plan.circuits.values() if c.equipment == host.equipment), None)
        source = self.plant.plan.sources.get(line.source or "") if line else None
        volts = (source.volts_to_ground if self._returns_on_neutral() else source.volts) if source else None
        taps = [tap for part in self.plant.types[key].inside for tap in getattr(part, "primary_taps", [])]
        near = [tap for tap in taps if volts is not None and abs(tap.volts / volts - 1) <= 0.05]
        if not near:
            said = f"{volts:g} V" if volts else "a supply of unknown volts"
            raise _Stop(Obstacle(f"The lamp has no tap for {said}. Give the panel its volts, or take another lamp."))
        for tap in taps:
            if tap is not near[0]:
                self.change({"devices": {key: {"capped": {tap.terminal: True}}}})
        return str(near[0].terminal)

    def _step(self, step: StepOf) -> None:
        if step.join or step.line:
            try:
                ends = self._ref(step.join or step.line or ""), self._ref(step.to or "")
            except _Stop:
                if step.only_if:
                    return
                raise
            self._join(*ends, line=step.line is not None)
        elif step.cap:
            device, _, terminal = self._ref(step.cap).partition(".")
            self.change({"devices": {device: {"capped": {terminal: True}}}})
        elif step.break_ and step.through:
            terminal, joint = self._moved(self._ref(step.break_), step.towards)
            self._join(terminal, self._ref(step.through[0]))
            self._join(joint, self._ref(step.through[1]))
        elif step.divert:
            _, joint = self._moved(self._ref(step.divert), step.towards)
            self._join(joint, self._ref(step.to or ""))
        elif step.loop and step.through:
            self._loop(*(self._ref(end) for end in (*step.loop, *step.through)))
        elif step.spare:
            self._spare(self._ref(step.spare), self.fitted.parts[str(step.towards)], step.to or "")

    def _join(self, one: str, two: str, line: bool = False) -> None:
        a, b = (self.at.get(key := ref.partition(".")[0], key) for ref in (one, two))
        if a == b:
            a, b = one.partition(".")[0], two.partition(".")[0]
        if (b, a, line) in self.cables:
            a, b, one, two = b, a, two, one
        self.cables.setdefault((a, b, line), []).append((one, two))

    def _moved(self, ref: str, towards: Sequence[str] | str | None) -> tuple[str, str]:
        """What lands there from one of those devices, moved to a joint: the terminal, and the joint."""
        groups = () if towards is None or isinstance(towards, str) else towards
        landed = self.plant.on.get(ref, ())
        leading = [
            entry for group in groups for entry in landed
            if (far := entry[0].device(other(entry[1]))) in self.plant.types and self.plant.types[far].group == group
        ]  # fmt: skip
        # Behind a safety contact that is there already, the next lies in series with it.
        leading += [entry for entry in landed if self._on_safety(entry[0].end(other(entry[1])).terminal)]
        if leading:
            wire, end = leading[0]
            joint = self._joint(ref.partition(".")[0])
            self._to_joint(wire, end, joint)
            return ref, joint
        words = " or ".join(groups)
        post = self.plant.posts[ref]
        raise _Stop(Obstacle(f"Nothing lands on {post.at} from a {words}: there is nothing to break. Land it first."))

    def _on_safety(self, ref: str | None) -> bool:
        """Whether a terminal is the end of a contact that something happening opens."""
        device, _, rest = (ref or "").partition(".")
        kind = self.plant.types.get(device)
        return kind is not None and any(
            isinstance(part, Contact) and rest in (part.a, part.b) and (part.operated_by or "").startswith("cause:")
            for part in kind.inside
        )

    def _to_joint(self, wire: Wire, end: EndName, joint: str) -> None:
        landing = {"terminal": joint, "capped": None, "pigtail": None, "connector": self._connector(joint)}
        self.change({"cables": {wire.cable_id: {"conductors": {wire.id: {end: landing}}}}})

    def _joint(self, near: str) -> str:
        """A free joint at a device: in a box that is there, else in a new one."""
        device = self.plant.plan.devices[near]
        taken = {ref for pairs in self.cables.values() for pair in pairs for ref in pair} | set(self.plant.on)
        boxes = [
            key for key, other in self.plant.plan.devices.items()
            if other.type == JOINT and other.place == device.place and other.equipment == device.equipment
        ]  # fmt: skip
        for box in boxes:
            for post in self.plant.posts_of(box):
                if post.ref not in taken:
                    self.at[box] = near
                    return post.ref
        key = self._free("devices", "JB")
        entry = {"type": JOINT, "name": f"joints at {near}", "place": device.place, "spot": device.spot,
                 "equipment": device.equipment}  # fmt: skip
        self.change({"devices": {key: {name: value for name, value in entry.items() if value is not None}}})
        self.at[key] = near
        return f"{key}.j.J1"

    def _loop(self, first: str, last: str, one: str, two: str) -> None:
        """A contact put into the loop from first to last: before what comes back to last, else alone."""
        for (a, b, line), pairs in self.cables.items():
            for number, (left, right) in enumerate(pairs):
                if last in (left, right) and not line:
                    before = left if right == last else right
                    pairs.pop(number)
                    if not pairs:
                        del self.cables[(a, b, line)]
                    self._join(before, one)
                    self._join(two, last)
                    return
        landed = self.plant.on.get(last, [])
        if not landed:
            self._join(first, one)
            self._join(two, last)
            return
        wire, end = landed[0]
        joint = self._joint(last.partition(".")[0])
        self._to_joint(wire, end, joint)
        self._join(joint, one)
        self._join(two, last)

    def _spare(self, ref: str, towards: str, to: str) -> None:
        """A terminal reached over a spare conductor of the cable between two devices, joined on at the other end."""
        device = ref.partition(".")[0]
        cables = [
            key for key, cable in self.plant.plan.cables.items()
            if {cable.a.device, cable.b.device} == {device, towards} and cable.state != "removed"
        ]  # fmt: skip
        for key in cables:
            spare = spare_wires(self.plant, key, "accessory")
            if not spare:
                continue
            wire, target = spare[0], self._ref(to)
            near = "a" if wire.cable.a.device == device else "b"
            far = "b" if near == "a" else "a"
            direct = target.partition(".")[0] == towards
            there = target if direct else self._joint(towards)
            landings = {
                near: {"terminal": ref, "capped": None},
                far: {"terminal": there, "capped": None} | ({} if direct else {"connector": self._connector(there)}),
                "note": f"{wire.colour} serves {self.fitted.pattern.name.lower()}"[:200],
            }
            self.change({"cables": {key: {"conductors": {wire.id: landings}}}})
            if not direct:
                self._join(there, target)
            return
        ways = [way for key in cables if (way := self._larger(key))]
        names = ", ".join(cables)
        says = f"No conductor is spare in {names}." if cables else f"No cable runs from {device} to {towards}."
        raise _Stop(Obstacle(says, tuple(ways)))

    def _larger(self, key: str) -> Way | None:
        count = len(self.plant.wires[key])
        needed = sum(1 for step in self.fitted.pattern.steps if step.spare)
        patch = same_make_but(self.plant, key, count + needed)
        if patch is None:
            return None
        number = patch["cables"][key]["count"]
        return Way(label=f"Replace {key}", message=f"a cable of {number} conductors in its place", fix=patch)

    def _connector(self, ref: str) -> str:
        device = ref.partition(".")[0]
        kind = self.plant.types.get(device)
        return connector_for(self.plant.plan.devices[device].spot, bool(kind and kind.moves))

    def _cable(self, one: str, two: str, line: bool, pairs: list[tuple[str, str]]) -> None:
        """A new cable with its conductors landed; between two terminals of one device, jumpers."""
        if one == two:
            for pair in pairs:
                landing = {end: self._end(ref) for end, ref in zip(ENDS, pair, strict=True)}
                jumper = {"a": {"device": one}, "b": {"device": two}, "conductors": {"jumper": landing},
                          "family": "jumper", "count": 1, "awg": "18", "strands": "stranded"}  # fmt: skip
                self.change({"cables": {self._free("cables", "J"): jumper}})
            return
        spot = self._spot(one, two)
        outside = spot in OUTSIDE
        make = self._singles(pairs) if line else self._control(one, two, pairs, outside)
        colours = make.pop("names")
        conductors: dict[str, Any] = {colour: {end: {"capped": True} for end in ENDS} for colour in colours}
        for colour, pair in zip(colours, pairs, strict=False):
            conductors[colour] = {end: self._end(ref) for end, ref in zip(ENDS, pair, strict=True)}
        key = self._free("cables", "AC")
        route: dict[str, Any] = {"order": 10, "spot": spot, "length_ft": self.length_ft}
        if line or outside:
            route["raceway"] = "FMC" if spot == "vehicle" else "LFNC"
        cable = {"a": {"device": one}, "b": {"device": two}, **make, "route": {"r1": route}, "conductors": conductors}
        self.change({"cables": {key: cable}})

    def _spot(self, *devices: str) -> str:
        """What sort of place a new cable lies in: outdoors where one of its ends is."""
        spots = [self.plant.plan.devices[key].spot for key in devices]
        return (
            next((spot for spot in spots if spot in OUTSIDE), None)
            or self.plant.plan.devices[self.host].spot
            or "interior"
        )

    def _singles(self, pairs: list[tuple[str, str]]) -> Patch:
        """Single conductors, as many as are landed: ground green, neutral white, the rest black and on."""
        rest = iter(LINE_COLOURS)
        names = [
            "green" if self._means(pair, "ground") else "white" if self._means(pair, "neutral") else next(rest)
            for pair in pairs
        ]
        return {"family": "singles", "colours": names, "awg": LINE_AWG, "strands": "stranded", "names": names}

    def _control(self, one: str, two: str, pairs: list[tuple[str, str]], outside: bool) -> Patch:
        """The smallest control cable that has the conductors; wet and sunlight rated outdoors. 18 AWG, or as thick as
        its terminals ask, then tray cable."""
        least = [self.plant.posts[ref].terminal.awg_min for pair in pairs for ref in pair]
        thick = next((awg for awg in reversed(THICKER) if awg in least), None)
        family = "tray" if thick else "thermostat-wet" if outside else "thermostat"
        kind = cable_families()[family]
        count = next((count for count in kind.counts() if count >= max(2, len(pairs))), None)
        if count is None:
            raise _Stop(Obstacle(f"No cable has the {len(pairs)} conductors that lie between {one} and {two}."))
        strands = "stranded" if thick else "solid"
        names = kind.colours_of(count)
        return {"family": family, "count": count, "awg": thick or "18", "strands": strands, "names": names}

    def _means(self, pair: tuple[str, str], function: str) -> bool:
        return any((post := self.plant.posts.get(ref)) and post.function == function for ref in pair)

    def _end(self, ref: str) -> Patch:
        post = self.plant.posts[ref]
        lead = post.terminal.hardware == "lead" or self.plant.types[post.device_id].group == "joint"
        return {"terminal": ref} | ({"connector": self._connector(ref)} if lead else {})

    def _pigtails(self) -> None:
        """Where a terminal holds more than it takes, what lands there is joined and one conductor lands."""
        touched = {ref for pairs in self.cables.values() for pair in pairs for ref in pair}
        for ref, landed in sorted(self.plant.on.items()):
            if ref not in touched:
                continue
            post = self.plant.posts.get(ref)
            if post is None or self.plant.load_on(ref) <= (post.terminal.takes or 1):
                continue
            for wire, end in landed:
                self.change({"cables": {wire.cable_id: {"conductors": {wire.id: {end: {"pigtail": True}}}}}})
