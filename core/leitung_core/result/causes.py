"""One fact once: what two engines tell of one thing is one finding, with the graver severity and what follows from it.

A finding's key is its cause: what it is about and which fact it states, whichever engine states it.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence

from leitung_core.findings import CODES, SEVERITIES, Finding
from leitung_core.plant.plant import Plant

# Codes of different engines that state one fact of a stretch of conductor.
OF_A_CABLE = {
    "white-reidentify": "white", "white-not-marked": "white",
    "length-missing": "length", "cable-length-missing": "length",
    "method-missing": "make", "cable-make-missing": "make",
    "place-missing": "place", "cable-route-missing": "place",
    "nm-wet": "wet", "cable-not-wet": "wet",
}  # fmt: skip
# And of a unit.
OF_A_UNIT = {"transformer-tap": "tap", "single-phase-on-wye": "tap", "tap-wrong": "tap"}
# Bench findings that follow from what the wiring's rules have told at the same device, or at a cable that ends there.
FOLLOWS = {
    "line-on-control": {"signal-crossed", "line-on-low", "two-meanings"},
    "no-return": {"common-missing", "device-unfed", "terminal-open", "signal-crossed", "two-meanings",
                  "cable-not-landed", "device-not-wired", "terminal-absent"},
    "call-does-nothing": {"common-missing", "device-unfed", "terminal-open", "call-not-carried", "two-meanings",
                          "half-landed", "cable-not-landed", "device-not-wired", "terminal-absent", "signal-crossed",
                          "data-crossed", "accessory-not-landed", "valve-sense"},
    "data-turned": {"data-crossed"},
    "secondary-shorted": {"valve-on-common", "two-meanings"},
    "supplies-tied": {"two-meanings"},
    "runs-without-call": {"two-meanings", "valve-sense", "signal-crossed"},
    "bench-unfed": {"device-not-wired", "device-unfed", "source-missing", "terminal-open"},
}  # fmt: skip
_ORDER = {code: number for number, code in enumerate(CODES)}


def merged(
    plant: Plant, told: Iterable[Finding], bench: Mapping[str, Sequence[Finding]]
) -> tuple[list[Finding], dict[str, list[str]]]:
    """Every fact once, stops first, causes before consequences; articles in the numbers of the plan's edition.

    bench: what the bench tells of each control system. Also gives, for each, the keys under which it now stands.
    """
    found: dict[str, Finding] = {}
    for row in told:
        _take(found, row, _key(plant, row))
    at_device = _by_device(plant, found)
    systems: dict[str, list[str]] = {}
    for system, rows in bench.items():
        keys = systems.setdefault(system, [])
        for row in rows:
            key = _cause_of(row, at_device.get(row.about.partition("/")[2], ()), found)
            if key is not None:
                found[key] = _following(found[key], row)
            else:
                key = _key(plant, row)
                _take(found, row, key)
            keys += [key] if key not in keys else []
    cite = plant.book.cite
    cited = [row.model_copy(update={"key": key, "article": cite(row.article)}) for key, row in found.items()]
    return sorted(cited, key=in_order), systems


def in_order(row: Finding) -> tuple[int, int, str]:
    """Stops first; within a severity in the order in which one thing leads to the next."""
    return SEVERITIES.index(row.severity), _ORDER[row.code], row.about


def graver(one: Finding, two: Finding) -> bool:
    """Whether the first is graver than the second."""
    return SEVERITIES.index(one.severity) < SEVERITIES.index(two.severity)


def _take(found: dict[str, Finding], row: Finding, key: str) -> None:
    there = found.get(key)
    if there is None or graver(row, there):
        found[key] = row


def _following(cause: Finding, row: Finding) -> Finding:
    """The cause with what follows from it; as grave as the gravest of both."""
    severity = row.severity if graver(row, cause) else cause.severity
    follows = [*cause.follows, row.message] if row.message not in cause.follows else cause.follows
    return cause.model_copy(update={"severity": severity, "follows": follows})


def _key(plant: Plant, row: Finding) -> str:
    if row.code in OF_A_CABLE and (cable := _cable_of(plant, row.about)):
        return f"{OF_A_CABLE[row.code]}:{cable}"
    if row.code in OF_A_UNIT:
        return f"{OF_A_UNIT[row.code]}:{_unit_of(plant, row.about)}"
    return row.key or f"{row.code}:{row.about}"


def _cable_of(plant: Plant, about: str) -> str | None:
    """The cable that an address is about, or as which the stretch of a line that it is about is landed."""
    group, name, *rest = about.split("/")
    if group == "cables":
        return name
    if group == "circuits" and rest[:1] == ["run"] and len(rest) > 1 and name in plant.lines:
        return next((s.cable for s in plant.lines[name].stretches if s.key == rest[1]), None)
    return None


def _unit_of(plant: Plant, about: str) -> str:
    """The unit that an address is about: itself, that of a device, that of a line."""
    group, name, *_ = [*about.split("/"), ""]
    if group == "devices" and name in plant.plan.devices:
        return plant.plan.devices[name].equipment or name
    if group == "circuits" and name in plant.plan.circuits:
        return plant.plan.circuits[name].equipment or name
    return name


def _by_device(plant: Plant, rows: Mapping[str, Finding]) -> dict[str, list[str]]:
    """The keys of what is told at each device, and at the cables that end there."""
    at: dict[str, list[str]] = {}
    for key, row in rows.items():
        for device in devices_of(plant, row.about):
            at.setdefault(device, []).append(key)
    return at


def devices_of(plant: Plant, about: str) -> tuple[str, ...]:
    """The devices at which something is told: the one that it is about, or those at the ends of the cable."""
    group, name, *_ = [*about.split("/"), ""]
    if group == "cables" and name in plant.plan.cables:
        cable = plant.plan.cables[name]
        return (cable.a.device, cable.b.device)
    return (name,) if group == "devices" else ()


def _cause_of(row: Finding, near: Iterable[str], found: Mapping[str, Finding]) -> str | None:
    """The key of the finding from which a bench finding follows, of those near it; None where it stands by itself."""
    codes = FOLLOWS.get(row.code, set())
    causes = [key for key in near if found[key].code in codes]
    return min(causes, key=lambda key: in_order(found[key])) if causes else None
