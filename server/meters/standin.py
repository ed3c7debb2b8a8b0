"""Stand-ins for a meter on SCPI and for a power meter on Modbus, where none is at hand.

Run by itself: `python -m meters.standin SCPI_PORT MODBUS_PORT FILE`, on the loopback; once they listen, FILE says where
they are and of which class. They show what the solver says
at the point where the leads lie, as far off as a meter of that class may be, for the plan as it was built or with one
mistake hidden in it. Three commands lay the leads: STAN:PLAN (the plan as JSON, deflated, base64), STAN:POIN (the key
of a reading), STAN:MIST (a mistake's id, or nothing).
"""

from __future__ import annotations

import asyncio
import base64
import json
import struct
import sys
import zlib
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from leitung_core.commissioning.judge import OPEN_OHMS
from leitung_core.commissioning.steps import ReadingPoint
from leitung_core.control.system import systems_of, whole
from leitung_core.instruments.classes import Unit
from leitung_core.instruments.stand_in import StandIn, usual
from leitung_core.plan.model import read_plan
from leitung_core.plant.plant import Plant
from leitung_core.result import check_and_brief
from leitung_core.slips.mistakes import mistakes
from pymodbus.server import ModbusTcpServer
from pymodbus.simulator import DataType, SimData, SimDevice

LONGEST_LINE = 4_000_000
MOST_PLAN = 8_000_000
IDENTITY = "Leitung,Stand-in meter,0,1"
OVER_RANGE = "+9.9E+37"
REGISTERS: dict[Unit, int] = {"V": 0, "A": 2}


@dataclass
class Bench:
    """What the leads lie on. Every question is answered by the solver."""

    seed: int = 0
    packed: str = ""
    mistake: str = ""
    point: ReadingPoint | None = None
    _meters: list[StandIn] = field(default_factory=list)

    def lay(self, packed: str) -> None:
        """A plan as it was built; the same one again costs nothing."""
        if packed == self.packed:
            return
        unpacker = zlib.decompressobj()
        raw = unpacker.decompress(base64.b64decode(packed, validate=True), MOST_PLAN)
        plan = read_plan(json.loads(raw))
        plant, (_, brief) = Plant(plan), check_and_brief(plan)
        # What lies in no control system, as the lugs of a feeder, the plan as a whole has.
        systems = (*systems_of(plant), whole(plant))
        self._meters = [StandIn(system, brief.start_up, seed=self.seed) for system in systems]
        self.packed, self.point, self.mistake = packed, None, ""

    def touch(self, key: str) -> bool:
        """The leads on a point; whether it is one that is drawn."""
        self.point = next((point for _, point in self._points() if point.key == key), None)
        return self.point is not None

    def hide(self, wanted: str) -> bool:
        """A mistake hidden in the plan as it was built, by its id; none."""
        self._meters = [StandIn(meter.system, meter.startup, seed=self.seed) for meter in self._meters]
        self.mistake = wanted
        for at, meter in enumerate(self._meters[:-1]):
            for mistake in mistakes(meter.system) if wanted else ():
                if mistake.id == wanted:
                    self._meters[at] = StandIn(meter.system, meter.startup, mistake, self.seed)
                    return True
        return not wanted

    def reads(self, unit: str, dc: bool = False) -> float:
        """What the meter shows: what is there if that is what it was asked for, else nothing."""
        if self.point is None or self.point.unit != unit or self.point.dc != dc:
            return 0.0
        meter = next(meter for meter, point in self._points() if point.key == self.point.key)
        return meter.read(self.point)

    def _points(self) -> list[tuple[StandIn, ReadingPoint]]:
        return [(meter, point) for meter in self._meters for point in meter.points()]


def answer(bench: Bench, line: str) -> str:
    """The answer to one line."""
    word, _, rest = line.strip().partition(" ")
    asked = {"MEAS:VOLT:AC?": ("V", False), "MEAS:VOLT:DC?": ("V", True), "MEAS:CURR:AC?": ("A", False),
             "MEAS:RES?": ("Ω", False)}.get(word.upper())  # fmt: skip
    if asked:
        value = bench.reads(*asked)
        return OVER_RANGE if asked[0] == "Ω" and value >= OPEN_OHMS else f"{value:+.5E}"
    if word.upper() == "*IDN?":
        return IDENTITY
    try:
        if word.upper() == "STAN:POIN?":
            return bench.point.key if bench.point else "NONE"
        if word.upper() == "STAN:PLAN":
            bench.lay(rest)
            return "OK"
        known = {"STAN:POIN": bench.touch, "STAN:MIST": bench.hide}.get(word.upper())
        return "OK" if known is not None and known(rest.strip()) else "ERROR"
    except (ValueError, zlib.error):
        return "ERROR"


async def _talk(bench: Bench, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
    try:
        while line := await reader.readline():
            said = await asyncio.to_thread(answer, bench, line.decode("utf-8", "replace"))
            writer.write(f"{said}\n".encode())
            await writer.drain()
    except (ConnectionError, ValueError):
        pass
    finally:
        writer.close()


def device(bench: Bench) -> SimDevice:
    """The power meter: its figures are worked out when they are read."""

    async def look(_f: int, start: int, _a: int, _c: int, registers: list[int], written: object) -> None:
        for unit, at in REGISTERS.items() if written is None else ():
            high, low = struct.unpack(">HH", struct.pack(">f", await asyncio.to_thread(bench.reads, unit)))
            registers[at - start : at - start + 2] = [high, low]

    blank = [SimData(address=0, count=16, values=0, datatype=DataType.REGISTERS)]
    return SimDevice(id=1, simdata=blank, action=look)


def said(scpi: int, modbus: int) -> list[dict[str, Any]]:
    """Both as instruments that can be reached."""
    at = {"host": "127.0.0.1", "stand_in": True, "tell_port": scpi}
    classes = {unit: found.model_dump() for unit, found in usual().items()}
    meter = {"id": "stand-in-meter", "name": "stand-in meter", "protocol": "scpi", "port": scpi, "classes": classes}
    power = {"id": "stand-in-power-meter", "name": "stand-in power meter", "protocol": "modbus", "port": modbus,
             "classes": {unit: classes[unit] for unit in REGISTERS}, "registers": REGISTERS}  # fmt: skip
    return [meter | at, power | at]


async def serve(scpi: int, modbus: int, file: Path, seed: int = 0) -> None:
    """Serve both on the loopback, for ever."""
    bench = Bench(seed)
    power = ModbusTcpServer(device(bench), address=("127.0.0.1", modbus))
    lines = await asyncio.start_server(
        lambda reader, writer: _talk(bench, reader, writer), "127.0.0.1", scpi, limit=LONGEST_LINE
    )
    async with lines:
        await power.serve_forever(background=True)
        part = file.with_suffix(".part")
        part.write_text(json.dumps(said(scpi, modbus)), "utf-8")
        part.replace(file)
        await lines.serve_forever()


if __name__ == "__main__":
    asyncio.run(serve(int(sys.argv[1]), int(sys.argv[2]), Path(sys.argv[3])))
