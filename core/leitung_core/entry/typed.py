"""A change of a plan with its quantities as people typed them: each text in a field of a quantity becomes its value."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any

from leitung_core.entry.quantity import Quantity, read_quantity
from leitung_core.entry.ranges import read_range
from leitung_core.errors import InputError, Problem

# Which quantity a field of the plan holds, by its name.
QUANTITY_OF = {
    "ambient_c": "ambient", "permit_date": "date", "conductor": "size", "egc": "size", "raceway_size": "trade_size",
    "watts": "watts", "supply_cfm": "airflow", "return_cfm": "airflow",
    "volts_to_ground": "volts", "volts_min": "volts", "volts_max": "volts", "rated_volts": "volts", "volts": "volts",
}  # fmt: skip
ENDINGS = (("_ft", "length"), ("_a", "amps"), ("_f", "temperature"))
MOST_PROBLEMS = 20


def understood(patch: Mapping[str, Any]) -> dict[str, Any]:
    """The patch with every typed quantity read. Raises InputError naming each field that cannot be, or is not likely.

    What is typed with its unit is taken as it is said; a bare figure that is not likely for its field is asked back.
    """
    problems: list[Problem] = []
    found = _walk(patch, (), problems)
    if problems:
        raise InputError(*problems[:MOST_PROBLEMS])
    assert isinstance(found, dict)
    return found


def quantity_of(path: tuple[str, ...]) -> str | None:
    """The quantity that the field at that place holds; None where it holds something else."""
    *above, name = path
    if name == "volts" and above[-1:] == ["nameplate"]:
        return "plate_volts"
    if name == "watts" and above[-1:] == ["heat"]:
        return "heat"
    return QUANTITY_OF.get(name) or next((quantity for end, quantity in ENDINGS if name.endswith(end)), None)


def _walk(value: Any, path: tuple[str, ...], problems: list[Problem]) -> Any:
    if isinstance(value, Mapping):
        found = {name: _walk(entry, (*path, str(name)), problems) for name, entry in value.items()}
        return _with_phase(found, value) if path[-1:] == ("nameplate",) else found
    if isinstance(value, list):
        return [_walk(entry, (*path, str(index)), problems) for index, entry in enumerate(value)]
    if isinstance(value, str) and _is_range(path):
        return _ranged(value, path, problems)
    if isinstance(value, str) and path[:1] == ("work",) and path[-1] == "minutes":
        found = _ranged(value, path, problems)
        return [found] if isinstance(found, float) else found
    if not path or not isinstance(value, str):
        return _likely_heat(value, path, problems)
    quantity = quantity_of(path)
    return value if quantity is None else _typed(quantity, value, path, problems)


def _is_range(path: tuple[str, ...]) -> bool:
    """Whether the field there holds a figure of a start, which may be a range."""
    if len(path) < 3:
        return False
    if path[0] == "equipment":
        return path[2] == "start" and path[-1] != "kind"
    own = ("ohms", "instant_x", "above_a", "after_s")
    return path[0] == "sources" and (path[2] in ("generator", "inverter") or path[-1] in own)


def _ranged(text: str, path: tuple[str, ...], problems: list[Problem]) -> Any:
    try:
        return read_range(path[-1], text)
    except InputError as error:
        (first, *_) = error.problems
        problems.append(Problem(".".join(path), text, first.message, first.remedy))
        return text


def _typed(quantity: str, text: str, path: tuple[str, ...], problems: list[Problem]) -> Any:
    try:
        found = read_quantity(quantity, text)
    except InputError as error:
        (first, *_) = error.problems
        problems.append(Problem(".".join(path), text, first.message, first.remedy))
        return text
    if found.asked_back is not None and not re.search(r"[^\d.,\s+-]", text):
        problems.append(_asked(found, text, path))
    return found.value["volts"] if quantity == "plate_volts" else found.value


def _asked(found: Quantity, text: Any, path: tuple[str, ...]) -> Problem:
    assert found.asked_back is not None
    return Problem(".".join(path), text, f"is not likely: {found.asked_back.says}", "Write it with its unit.")


def _likely_heat(value: Any, path: tuple[str, ...], problems: list[Problem]) -> Any:
    """Kilowatts of heat typed into watts: the slip that is made most, and the one that costs most."""
    if isinstance(value, int | float) and not isinstance(value, bool) and path and quantity_of(path) == "heat":
        found = read_quantity("heat", f"{value:f}")
        if found.asked_back is not None and found.asked_back.value is not None:
            problems.append(_asked(found, value, path))
    return value


def _with_phase(plate: dict[str, Any], typed: Mapping[str, Any]) -> dict[str, Any]:
    """Plate volts that were typed with their phases bring them along."""
    text = typed.get("volts")
    if isinstance(text, str) and "phase" not in typed:
        try:
            phase = read_quantity("plate_volts", text).value["phase"]
        except InputError:
            return plate
        return plate | ({"phase": phase} if phase else {})
    return plate
