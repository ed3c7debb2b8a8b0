"""Instruments that Leitung reaches itself: those of the machine's configuration, and the stand-ins that `start` runs.

An address is never anything that a person types into the application.
"""

from __future__ import annotations

import json
from typing import Annotated, Any, Literal

from django.conf import settings
from leitung_core.errors import InputError
from leitung_core.instruments.classes import MeterClass, Unit
from leitung_core.validation import Entered, Id, Text, read
from pydantic import Field

STAND_INS = settings.STATE / "run" / "stand_ins_at.json"


class Connected(Entered):
    """An instrument on the network: its protocol and address, what it reads and how far it may be off.

    registers: of a Modbus meter, by unit the input register at which its 32-bit figure begins. stand_in: it is asked
    over its SCPI port `tell_port` what it is to show.
    """

    id: Id
    name: Text
    protocol: Literal["scpi", "modbus"]
    host: Text
    port: Annotated[int, Field(ge=1, le=65535)]
    serial: str = ""
    classes: Annotated[dict[Unit, MeterClass], Field(min_length=1)]
    calibrated_on: str | None = None
    registers: dict[Unit, Annotated[int, Field(ge=0, le=65534)]] = {}
    stand_in: bool = False
    tell_port: int | None = None


def connected() -> list[Connected]:
    """Every instrument that can be reached. What is not written as it should be is left out, never guessed."""
    found = []
    for row in [*settings.CONFIG.get("instruments", []), *_stand_ins()]:
        try:
            found.append(read(Connected, row))
        except InputError:
            continue
    return found


def _stand_ins() -> list[dict[str, Any]]:
    try:
        return list(json.loads(STAND_INS.read_text("utf-8")))
    except (OSError, ValueError, TypeError):
        return []
