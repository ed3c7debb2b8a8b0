"""What cannot be: refused with field, value and remedy, before anything is worked out."""

from __future__ import annotations

from leitung_core.circuits.spec import Supply
from leitung_core.errors import InputError, Problem


def impossible_supply(supply: Supply, root: str = "supply") -> list[Problem]:
    """Problems of a supply that no network can give."""
    problems = []
    if supply.phase == 3 and supply.volts is not None and (supply.volts < 200 or supply.volts == 277):
        remedy = "Give the volts between two line conductors, 208 or 480 for instance, or make it 1 phase."
        message = f"three phases do not exist at {supply.volts:g} V between conductors"
        problems.append(Problem(f"{root}.phase", supply.phase, message, remedy))
    if supply.volts is not None and supply.volts_to_ground is not None and supply.volts_to_ground > supply.volts:
        message = f"cannot be above the {supply.volts:g} V between the conductors"
        remedy = "Correct one of the two, or leave the volts to ground out if not known."
        problems.append(Problem(f"{root}.volts_to_ground", supply.volts_to_ground, message, remedy))
    return problems


def refuse_impossible(supply: Supply) -> None:
    """Raise InputError where the supply cannot be."""
    problems = impossible_supply(supply)
    if problems:
        raise InputError(*problems)
