"""A control system of a plan: its devices, its network with what each load is to do, and what can be called in it."""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import cached_property
from typing import Any

from leitung_core.control.intents import Intents
from leitung_core.control.network import Built, build, operator_of, systems
from leitung_core.elements.signals import signals
from leitung_core.elements.vocabulary import CONTROL_VOLTS, Coil, Contact, DcSource, Effect, Element, Load, Transformer
from leitung_core.interlocks.requirements import Requirement, requirements
from leitung_core.plan.model import Interlock, dump_plan, read_plan
from leitung_core.plan.patch import merge
from leitung_core.plant.plant import Plant
from leitung_core.solver.network import Conductor, Network

AIR_WITHIN: dict[Effect, str] = {"heat": "air-for-heat", "cooling": "air-for-cooling"}
# As a motor of three loads names each: `first compressor, 1 to 2`.
PHASES = re.compile(r", \d to \d")
HEADS = ("board", "outdoor unit", "humidity", "lamp", "pump")


@dataclass(frozen=True)
class Cell:
    """A cause against an effect: whether a rule asks for it, whether the plan does, and which loads it must stop.

    interlock: the plan's entry for it, or the id that one is to have. by: the devices that do it and need a supply of
    their own for that.
    """

    cause: str
    effect: Effect
    required: Requirement | None
    interlock: str
    wanted: bool
    loads: tuple[str, ...]
    by: tuple[str, ...] = ()

    @property
    def test(self) -> Requirement | None:
        """How the cause is provoked and reset, whether a rule asks for this effect or the plan alone."""
        return requirements().get(self.cause)


@dataclass(frozen=True)
class System:
    """One control system; `key` is the device at its head."""

    key: str
    plant: Plant
    built: Built

    @property
    def title(self) -> str:
        device = self.plant.plan.devices[self.key]
        name = device.name or self.plant.types[self.key].name
        return f"{name}, {device.place}" if device.place else name

    @cached_property
    def devices(self) -> list[str]:
        return sorted(self.built.devices)

    @cached_property
    def _operators(self) -> list[str]:
        found = []
        for key in self.devices:
            kind, settings = self.plant.types[key], self.plant.plan.devices[key].settings
            for part in kind.inside:
                by = operator_of(part, kind, settings) if isinstance(part, Contact) else None
                if by is not None and isinstance(part, Contact) and self.used(key, part):
                    found.append(f"hand:{key}" if by == "hand" else by)
            if kind.group == "panel":
                found.append(f"hand:{key}")
        return list(dict.fromkeys(found))

    def used(self, key: str, contact: Contact) -> bool:
        """Whether something lands on both sides of a contact: else it moves for nothing."""
        return all(end.startswith("_") or f"{key}.{end}" in self.built_ends for end in (contact.a, contact.b))

    @cached_property
    def calls(self) -> list[str]:
        """What can be called here, in the order of the vocabulary."""
        return [name for name in signals() if name.startswith("call:") and name in self._operators]

    @cached_property
    def causes(self) -> list[str]:
        """What can happen here."""
        return [name for name in signals() if name.startswith("cause:") and name in self._operators]

    @cached_property
    def hands(self) -> list[str]:
        """Switches and breakers that can be moved by hand, `hand:DEVICE`."""
        return [name for name in self._operators if name.startswith("hand:")]

    @cached_property
    def effects(self) -> dict[Effect, tuple[str, ...]]:
        """The loads of each effect that is here."""
        found: dict[Effect, list[str]] = {}
        for key in self.devices:
            for part in self.plant.types[key].inside:
                if isinstance(part, Load) and part.effect is not None:
                    found.setdefault(part.effect, []).append(f"{key}.{part.id}")
        return {effect: tuple(loads) for effect, loads in found.items()}

    @cached_property
    def cells(self) -> list[Cell]:
        """The matrix: every cause that can happen here against every effect."""
        return [self._cell(cause, effect) for cause in self.causes for effect in self.effects]

    def _cell(self, cause: str, effect: Effect) -> Cell:
        rule = requirements().get(cause)
        required = rule if rule is not None and effect in rule.effects else None
        asked = self._asked(cause, effect)
        name, wanted = (asked[0], asked[1].stops) if asked else (self._free_id(cause, effect), required is not None)
        return Cell(cause, effect, required, name, wanted, self.effects[effect], self._powered_for(cause))

    def _powered_for(self, cause: str) -> tuple[str, ...]:
        """The devices whose contact a cause moves and that have electronics of their own: dead they prove nothing."""
        return tuple(
            key for key in self.devices
            if any(isinstance(part, Contact) and part.operated_by == cause and self.used(key, part)
                   for part in self.plant.types[key].inside)
            and any(isinstance(part, Load) and not part.is_polar for part in self.plant.types[key].inside)
        )  # fmt: skip

    def _free_id(self, cause: str, effect: str) -> str:
        """An id for a cell that the plan says nothing of; another system may have the plain one."""
        stem, taken, number = f"{cause.partition(':')[2]}-{effect}"[:28], self.plant.plan.interlocks, 1
        while (name := stem if number == 1 else f"{stem}-{number}") in taken:
            number += 1
        return name

    def _asked(self, cause: str, effect: Effect) -> tuple[str, Interlock] | None:
        for name, entry in sorted(self.plant.plan.interlocks.items()):
            if (entry.system, entry.cause, entry.effect) == (self.key, cause, effect):
                return name, entry
        return None

    @cached_property
    def network(self) -> Network:
        """The network with its intents and interlocks."""
        return self.judging(self.built)

    def judging(self, built: Built) -> Network:
        """What was built, this system's own or that of a plan changed by a mistake, judged by its intents."""
        return built.network(
            intent=self.intents,
            interlocks=self.stops,
            needs_air=self.needs_air,
            heat_and_cool_when=self.heat_and_cool or None,
            planned_delays=True,
        )

    @cached_property
    def intents(self) -> dict[str, str]:
        """When each load is to be on."""
        return Intents(self.plant, self.built.devices).all()

    @cached_property
    def stops(self) -> list[dict[str, Any]]:
        """What each cause must stop, as the open form has it."""
        found: list[dict[str, Any]] = []
        for cell in self.cells:
            if cell.wanted and cell.loads:
                first, *rest = cell.by or (None,)
                found.append({"when": cell.cause, "must_stop": list(cell.loads), "proved_by": first})
                found += [{"when": cell.cause, "must_stop": [], "proved_by": other} for other in rest]
        return found

    @cached_property
    def needs_air(self) -> list[dict[str, Any]]:
        """The heaters and compressors, the fan that moves their air, and how long each may do without it, s.

        A compressor outdoors needs the blower of its system, where that has one alone.
        """
        found = []
        blowers = [name for name in self.effects.get("fan", ()) if self._indoors(name)]
        for key in self.devices:
            powered = [part for part in self.plant.types[key].inside if isinstance(part, Load) and _on_line(part)]
            fan = next((f"{key}.{part.id}" for part in powered if part.effect == "fan"), None)
            for part in powered:
                of_system = blowers[0] if part.effect == "cooling" and len(blowers) == 1 else None
                moved_by = fan or of_system
                if part.effect in AIR_WITHIN and moved_by is not None:
                    within = float(self.plant.book.factor(AIR_WITHIN[part.effect]))
                    found.append({"load": f"{key}.{part.id}", "from": moved_by, "within_s": within})
        return found

    def _indoors(self, name: str) -> bool:
        """Whether a fan is that of an air handler or furnace."""
        return self.plant.types[name.rpartition(".")[0]].group == "board"

    @cached_property
    def heat_pump(self) -> bool:
        """Whether a reversing valve is in the system: the compressor then heats as well as cools."""
        return any(part.id == "VALVE" for key in self.devices for part in self.plant.types[key].inside)

    @cached_property
    def heat_and_cool(self) -> str | None:
        """Heat and cooling on at once; a heat pump's compressor does both, and is left out."""
        if self.heat_pump:
            return None
        heat, cool = (self.effects.get(effect, ()) for effect in ("heat", "cooling"))
        return f"({' or '.join(heat)}) and ({' or '.join(cool)})" if heat and cool else None

    @cached_property
    def by_name(self) -> dict[str, Element | Conductor]:
        """Every element as `DEV.ID` and every conductor, as the network has them."""
        inside = {f"{device.id}.{part.id}": part for device in self.network.devices for part in device.inside}
        return {**inside, **{wire.id: wire for wire in self.network.conductors}}

    @cached_property
    def built_ends(self) -> frozenset[str]:
        """Every node on which a conductor of the network ends, those taken from a line among them."""
        return frozenset(end for conductor in self.built.conductors for end in (conductor["from"], conductor["to"]))

    def part(self, name: str) -> Coil | Load | Contact | Transformer | None:
        """The element `DEV.ID` as the catalogue has it."""
        key, _, element = name.rpartition(".")
        if key not in self.plant.types:
            return None
        found = next((part for part in self.plant.types[key].inside if part.id == element), None)
        return found if isinstance(found, Coil | Load | Contact | Transformer) else None

    def words(self, name: str) -> str:
        """`the fan relay of AH-1`."""
        key, _, element = name.rpartition(".")
        part = self.part(name)
        called = part.name if isinstance(part, Coil | Load) and part.name else element
        if isinstance(self.by_name.get(name), DcSource):
            called = "signal output"
        if isinstance(part, Transformer):
            called = "transformer"
        return f"the {called} of {key}"

    def whole(self, name: str) -> str:
        """The load that stands for all of its motor: the first of those between one phase and the next."""
        part, (key, _, _) = self.part(name), name.rpartition(".")
        called, kind = _of_motor(part), self.plant.types.get(key)
        if called is None or kind is None:
            return name
        return next(f"{key}.{other.id}" for other in kind.inside if _of_motor(other) == called)

    def motor(self, name: str) -> str:
        """A load's words without the phases between which it lies: `the first compressor of RT-1`."""
        return PHASES.sub("", self.words(name), count=1)


def _of_motor(part: object) -> str | None:
    """What a load between two of three phases is called without them; None for any other."""
    name = part.name if isinstance(part, Coil | Load) else None
    return PHASES.sub("", name) if name and PHASES.search(name) else None


def _on_line(part: Load) -> bool:
    return (part.rated_volts or 0) > CONTROL_VOLTS


def systems_of(plant: Plant) -> list[System]:
    """The plan's control systems in which something is fed or called, the largest first."""
    found = []
    for devices in systems(plant):
        built = build(plant, devices)
        system = System(_head(plant, devices), plant, built)
        if any(plant.types[key].inside for key in devices):
            found.append(system)
    return found


@dataclass(frozen=True)
class Whole(System):
    """The whole plan in one network, feeders and all; what each system is to do is told for that system alone."""

    systems: tuple[System, ...] = ()

    @cached_property
    def intents(self) -> dict[str, str]:
        return {name: text for system in self.systems for name, text in system.intents.items()}

    @cached_property
    def stops(self) -> list[dict[str, Any]]:
        return [stop for system in self.systems for stop in system.stops]

    @cached_property
    def needs_air(self) -> list[dict[str, Any]]:
        return [entry for system in self.systems for entry in system.needs_air]

    @cached_property
    def heat_and_cool(self) -> str | None:
        return " or ".join(f"({text})" for system in self.systems if (text := system.heat_and_cool)) or None


def whole(plant: Plant) -> System:
    """The whole plan as one system."""
    devices = frozenset(plant.plan.devices)
    key = _head(plant, devices) if devices & plant.types.keys() else ""
    return Whole(key, plant, build(plant), tuple(systems_of(plant)))


def _head(plant: Plant, devices: frozenset[str]) -> str:
    """The device after which a system is called: its board, else its unit, else its first."""

    def rank(key: str) -> tuple[int, int, str]:
        kind = plant.types[key]
        group = HEADS.index(kind.group) if kind.group in HEADS else len(HEADS)
        return group, -len(kind.inside), key

    return min((key for key in devices if key in plant.types), key=rank)


def system_of(plant: Plant, key: str) -> System | None:
    """The system with that device at its head, or in which it is."""
    every = systems_of(plant)
    return next((one for one in every if one.key == key), None) or next(
        (one for one in every if key in one.built.devices), None
    )


def system_with(system: System, patch: dict[str, Any]) -> System:
    """The same devices, the plan changed."""
    plant = Plant(read_plan(merge(dump_plan(system.plant.plan), patch)))
    return System(system.key, plant, build(plant, system.built.devices))
