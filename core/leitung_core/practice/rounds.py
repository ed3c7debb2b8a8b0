"""What can be practised on a plan, and each round of it by name: the same name gives the same round again."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property

from leitung_core.commissioning.startup import start_up
from leitung_core.commissioning.steps import StartUp
from leitung_core.control.system import System, systems_of
from leitung_core.plant.plant import Plant
from leitung_core.practice.fault import find_the_fault
from leitung_core.practice.landing import cables_to_land, land_a_cable
from leitung_core.practice.model import Level, Round, Task
from leitung_core.practice.order import order_the_start, prove_dead
from leitung_core.practice.running import what_runs
from leitung_core.practice.sizing import kinds, size_a_plate
from leitung_core.sizing import size_all

ASKS: dict[Level, str] = {
    "size": "Read the plate, then size the circuit.",
    "land": "Land every conductor at both ends.",
    "runs": "Which of these run?",
    "fault": "Find the mistake with as few readings as you can, then make it safe to mend.",
    "dead": "Open what has to be open, then put the proof in order.",
    "order": "Put the steps in an order that works.",
}
MISTAKES = {
    "swap": "two conductors swapped", "open": "a conductor open", "bridge": "terminals bridged",
    "tap": "a lead on another tap", "side": "the other side of a contact", "moved": "conductors moved together",
    "jumper": "a jumper left in or out", "setting": "a setting wrong",
}  # fmt: skip


@dataclass(frozen=True)
class Offer:
    """Something that can be practised: at which level, of what, and the topic under which it comes again."""

    level: Level
    about: str
    topic: str
    says: str


@dataclass(frozen=True)
class Ground:
    """A plan to practise on, and its name."""

    name: str
    plant: Plant

    @cached_property
    def systems(self) -> dict[str, System]:
        """Its control systems by the device at their head."""
        return {system.key: system for system in systems_of(self.plant)}

    @cached_property
    def started(self) -> StartUp:
        """Its start-up."""
        return start_up(self.plant, list(self.systems.values()), size_all(self.plant))

    def hands(self, line: str) -> list[str]:
        """What can be switched by hand in the systems of a line's unit."""
        unit = self.plant.plan.circuits[line].equipment
        mine = set(self.plant.index.devices_of_unit.get(unit, ())) if unit else set()
        return [hand for system in self.systems.values() if mine & set(system.devices) for hand in system.hands]


def offers(ground: Ground) -> Iterator[Offer]:
    """What can be practised on a plan; sizing is of the catalogue and stands with each.

    Of some nothing comes when a round is made: no mistake of that kind can be found there, or too few steps are known.
    """
    for kind in kinds():
        yield Offer("size", kind, f"size/{kind}", kind.replace("_", " "))
    for key, system in ground.systems.items():
        group = ground.plant.types[key].group
        for cable in cables_to_land(system):
            family = ground.plant.plan.cables[cable].family or "cable"
            yield Offer("land", f"{key}:{cable}", f"land/{family}", f"a cable of {family}")
        yield Offer("runs", key, f"runs/{group}", f"what runs with a {group}")
        for kind, says in MISTAKES.items():
            yield Offer("fault", f"{key}:{kind}", f"fault/{kind}", says)
    for line, circuit in ground.plant.plan.circuits.items():
        if circuit.equipment:
            unit = ground.plant.plan.equipment[circuit.equipment].kind
            yield Offer("dead", line, f"dead/{unit}", f"a {unit.replace('_', ' ')} proved dead")
            yield Offer("order", f"circuits/{line}", f"order/{unit}", f"the start of a {unit.replace('_', ' ')}")


def make_round(ground: Ground, offer: Offer, seed: int) -> Round | None:
    """The round of a seed; None where this one cannot be asked."""
    task = _task(ground, offer, seed)
    if task is None:
        return None
    return Round(
        id=f"{offer.level}~{offer.about}~{seed}", topic=offer.topic, title=offer.says,
        of="the catalogue" if offer.level == "size" else ground.name,
        ask=ASKS[offer.level], task=task,
    )  # fmt: skip


def _task(ground: Ground, offer: Offer, seed: int) -> Task | None:
    key, _, rest = offer.about.partition(":")
    if offer.level == "size":
        return size_a_plate(offer.about, seed)
    if offer.level == "dead":
        return prove_dead(ground.plant, ground.started, offer.about, ground.hands(offer.about), seed)
    if offer.level == "order":
        return order_the_start(ground.started, offer.about, seed)
    system = ground.systems[key]
    if offer.level == "land":
        return land_a_cable(system, rest)
    return what_runs(system, seed) if offer.level == "runs" else find_the_fault(system, seed, rest)
