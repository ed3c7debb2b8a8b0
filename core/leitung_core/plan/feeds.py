"""What a weak source gives, and what helps a compressor up: figures of the plan and of a trial on paper alike."""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from leitung_core.ranges import Amps, Ohms, Seconds, Share, Volts, Watts
from leitung_core.validation import Entered, Id


class Generator(Entered):
    """Watts for ever, watts for `surge_s`, and the alternator's current where it is marked."""

    running_w: Watts | None = None
    surge_w: Watts | None = None
    surge_s: Seconds | None = None
    power_factor: Share | None = None
    max_a: Amps | None = None
    economy: bool | None = Field(None, description="whether it idles down and needs a moment to come up")


class Battery(Entered):
    """Volts when full and at rest, volts at which the inverter shuts off, ohms, and what it holds."""

    nominal_v: Volts | None = None
    full_v: Volts | None = None
    cutoff_v: Volts | None = None
    ohms: Ohms | None = None
    energy_wh: Watts | None = None
    usable: Share | None = None


class Inverter(Entered):
    """Watts for ever and for `surge_s`; efficiency and idle draw; the battery behind it."""

    running_w: Watts | None = None
    surge_w: Watts | None = None
    surge_s: Seconds | None = None
    efficiency: Share | None = None
    idle_w: Watts | None = None
    battery: Battery | None = None


class Aid(Entered):
    """What helps a compressor up. A soft starter's peak is the compressor's own current in the ramp."""

    kind: Literal["none", "hard_start", "soft_starter"] = "none"
    start_s: Seconds | None = Field(None, description="of a hard start: what the start takes with it")
    peak_a: Amps | None = None
    ramp_s: Seconds | None = None
    lockout_s: Seconds | None = Field(None, description="from the compressor's stop to the next start")
    power_factor: Share | None = None

    @model_validator(mode="after")
    def _fits(self) -> Self:
        given = {name for name in ("start_s", "peak_a", "ramp_s", "lockout_s", "power_factor")
                 if getattr(self, name) is not None}  # fmt: skip
        belongs = {"none": set(), "hard_start": {"start_s"}}.get(self.kind, given - {"start_s"})
        if given - belongs:
            raise ValueError(f"{' and '.join(sorted(given - belongs))} belongs to another kind of aid than {self.kind}")
        return self


class Manager(Entered):
    """A device between a source and its loads: it sheds loads above a current, or lets one of them on at a time.

    What it sheds stays off until somebody calls it anew.
    """

    kind: Literal["sheds", "alternates"]
    loads: Annotated[list[Id], Field(min_length=1, max_length=20)] = Field(
        description="in the order in which they are shed"
    )
    above_a: Amps | None = Field(None, description="of a leg, above which it sheds")
    after_s: Seconds | None = Field(None, description="how long it waits before it sheds")


class UnitStart(Entered):
    """How a unit starts, where its plate does not say it; the plate's locked rotor outranks this one."""

    locked_rotor_a: Amps | None = None
    start_s: Seconds | None = Field(None, description="how long its compressor takes to come up")
    compressor_after_s: Seconds | None = Field(None, description="from the call to the compressor")
    power_factor: Share | None = Field(None, description="of the running compressor")
    fan_inrush_a: Amps | None = None
    fan_inrush_s: Seconds | None = None
    aid: Aid | None = None
