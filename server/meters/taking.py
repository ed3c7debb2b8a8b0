"""A value taken from an instrument: one small interface over SCPI and over Modbus."""

from __future__ import annotations

import base64
import json
import math
import zlib
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import Any

import pyvisa
from leitung_core.commissioning.judge import OPEN_OHMS
from leitung_core.commissioning.steps import ReadingPoint
from problems import Refused
from pymodbus.client import ModbusTcpClient
from pymodbus.exceptions import ModbusException
from pyvisa.resources import MessageBasedResource

from meters.connected import Connected

PATIENCE_S = 3
SOLVING_S = 60  # a stand-in works out what it shows
INFINITE, NO_NUMBER = 9.9e37, 9.905e37  # SCPI-99, 7.2.1.4 and 7.2.1.5: 9.9E37 is infinity, 9.91E37 no number


Measure = Callable[[Connected, ReadingPoint], float]  # one value, in the unit of the point


def take(instrument: Connected, point: ReadingPoint, document: dict[str, Any]) -> float:
    """What an instrument reads at a point. `document`: the plan, for a stand-in that has none before its leads.

    Refused where it does not read such a unit, does not answer, or shows nothing.
    """
    if point.unit not in instrument.classes or (point.dc and instrument.protocol == "modbus"):
        unit = f"direct {point.unit}" if point.dc else point.unit
        raise Refused(409, "wrong-meter", f"{instrument.name} does not read {unit} here. Take another one.")
    try:
        if instrument.stand_in:
            _tell(instrument, point, document)
        value = OVER[instrument.protocol](instrument, point)
        if instrument.stand_in and not _still_there(instrument, point):
            raise OSError("another hand moved the leads")
        if math.isnan(value) or abs(value) >= NO_NUMBER:
            raise ValueError("no number")
    except (OSError, pyvisa.Error, ModbusException, ValueError):
        says = f"{instrument.name} does not answer, or with nothing that can be read. Type what it shows."
        raise Refused(503, "no-instrument", says) from None
    if abs(value) < INFINITE:
        return value
    if point.unit == "Ω":
        return OPEN_OHMS
    raise Refused(503, "over-range", f"{instrument.name} is over its range. Look at the meter before you go on.")


def _scpi(found: Connected, point: ReadingPoint) -> float:
    """Of a meter that speaks SCPI over TCP."""
    volts = "MEAS:VOLT:DC?" if point.dc else "MEAS:VOLT:AC?"
    asked = {"V": volts, "A": "MEAS:CURR:AC?", "Ω": "MEAS:RES?"}[point.unit]
    with _open(found, found.port) as line:
        return float(line.query(asked))


def _modbus(found: Connected, point: ReadingPoint) -> float:
    """Of a meter whose figures stand in input registers, 32-bit floating point, the high word first."""
    if point.unit not in found.registers:
        raise OSError("no register for it")
    client = ModbusTcpClient(found.host, port=found.port, timeout=_patience_s(found), retries=0)
    try:
        if not client.connect():  # type: ignore[no-untyped-call]
            raise OSError("no connection")
        answer = client.read_input_registers(found.registers[point.unit], count=2)
        if answer.isError():
            raise OSError("refused")
        return float(client.convert_from_registers(answer.registers, client.DATATYPE.FLOAT32))  # type: ignore[arg-type]
    finally:
        client.close()  # type: ignore[no-untyped-call]


OVER: dict[str, Measure] = {"scpi": _scpi, "modbus": _modbus}


def _patience_s(found: Connected) -> int:
    return SOLVING_S if found.stand_in else PATIENCE_S


@contextmanager
def _open(found: Connected, port: int) -> Iterator[MessageBasedResource]:
    manager = pyvisa.ResourceManager("@py")
    line = manager.open_resource(
        f"TCPIP::{found.host}::{port}::SOCKET", read_termination="\n", write_termination="\n",
        timeout=_patience_s(found) * 1000, open_timeout=PATIENCE_S * 1000,
    )  # fmt: skip
    assert isinstance(line, MessageBasedResource)
    try:
        yield line
    finally:
        line.close()


def _still_there(instrument: Connected, point: ReadingPoint) -> bool:
    """Whether a stand-in's leads lie where they were laid: it serves everybody."""
    with _open(instrument, instrument.tell_port or instrument.port) as line:
        return bool(line.query("STAN:POIN?") == point.key)


def _tell(instrument: Connected, point: ReadingPoint, document: dict[str, Any]) -> None:
    """Lay a stand-in's leads: the plan as it was built, and the point."""
    plan = base64.b64encode(zlib.compress(json.dumps(document).encode())).decode()
    with _open(instrument, instrument.tell_port or instrument.port) as line:
        if line.query(f"STAN:PLAN {plan}") != "OK" or line.query(f"STAN:POIN {point.key}") != "OK":
            raise OSError("the stand-in has no such point")
