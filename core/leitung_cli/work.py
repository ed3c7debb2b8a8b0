"""`leitung lockout`: the work as it is computed from a plan, open to anyone who wants to check it."""

from __future__ import annotations

from typing import Annotated

import typer
from leitung_core.cautions import QUALIFIED
from leitung_core.commissioning.lockout import LockOut, lock_out
from leitung_core.plan.model import read_plan
from leitung_core.plant.plant import Plant

from leitung_cli.files import FileArgument, JsonOption, load
from leitung_cli.networks import print_json


def lockout(
    plan: FileArgument,
    touch: Annotated[
        list[str], typer.Option("--touch", help="what a hand will touch: DEVICE or DEVICE.STRIP; again for more")
    ],
    as_json: JsonOption = False,
) -> None:
    """Say what to open and lock so that what a hand touches is dead, proved by the solver."""
    found = lock_out(Plant(read_plan(load(plan))), touch)
    if as_json:
        print_json(found.model_dump(mode="json"))
    else:
        _print(found)
    raise SystemExit(0 if found.proved else 1)


def _print(found: LockOut) -> None:
    print("proved dead" if found.proved else "NOT proved dead", f"({found.states} states)")
    for row in found.open:
        print(f"  open and lock the {row.kind} {row.device}: {row.why}")
    for other in found.also:
        print(f"  or: {', '.join(other)}")
    for strip in found.stays_live:
        print(f"  stays live: {strip.at}, {strip.volts:g} V: {strip.why}")
    for caution in found.cautions:
        print(f"  {caution}")
    print(f"  {QUALIFIED}")
