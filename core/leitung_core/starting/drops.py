"""The volts that are left where loads hang, through the conductors that they share.

At its node every load draws constant amperes and, while its rotor is locked, so many mhos; it lies on a leg or between
both. With G the mhos of the legs and between them, c the amperes, R the ohms of a leg up to the node and V the volts
before those, U = V - R x (c + G U) is left at it. Seen from before, what hangs there draws G' = G / (1 + R G) and
c' = c - G' R c: nodes add up towards the source.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import NamedTuple, Protocol

Legs = tuple[float, float]
SOURCE = ""  # the node of the source's own terminals


class Drawn(NamedTuple):
    """What is drawn at a node: A of each leg; mhos of each leg to neutral, and mhos between the legs."""

    amps: Legs = (0.0, 0.0)
    own: Legs = (0.0, 0.0)
    between: float = 0.0

    def behind(self, ohms: float) -> Drawn:
        """The same, seen from before so many ohms of each leg."""
        if ohms == 0:
            return self
        (a1, a2), g12 = self.amps, self.between
        g11, g22 = self.own[0] + g12, self.own[1] + g12
        determinant = (1 + ohms * g11) * (1 + ohms * g22) - (ohms * g12) ** 2
        across = g12 / determinant
        seen1 = (g11 * (1 + ohms * g22) - ohms * g12 * g12) / determinant
        seen2 = (g22 * (1 + ohms * g11) - ohms * g12 * g12) / determinant
        amps = (a1 - ohms * (seen1 * a1 + across * a2), a2 - ohms * (across * a1 + seen2 * a2))
        return Drawn(amps, (seen1 - across, seen2 - across), across)

    def volts(self, before: Legs, ohms: float) -> Legs:
        """The volts left at the node behind so many ohms of each leg."""
        (a1, a2), g12 = self.amps, self.between
        one, two, cross = 1 + ohms * (self.own[0] + g12), 1 + ohms * (self.own[1] + g12), ohms * g12
        right1, right2 = before[0] - ohms * a1, before[1] - ohms * a2
        determinant = one * two - cross * cross
        return (
            max(0.0, (two * right1 - cross * right2) / determinant),
            max(0.0, (one * right2 - cross * right1) / determinant),
        )


def together(parts: Iterable[Drawn]) -> Drawn:
    """What several draw at one node."""
    one = two = own1 = own2 = between = 0.0
    for part in parts:
        one, two = one + part.amps[0], two + part.amps[1]
        own1, own2, between = own1 + part.own[0], own2 + part.own[1], between + part.between
    return Drawn((one, two), (own1, own2), between)


class Feeder(Protocol):
    """Conductors that several loads share: ohms of a leg, and the feeder that feeds it, if any."""

    @property
    def ohms(self) -> float: ...
    @property
    def behind(self) -> str: ...


def volts_at(
    nominal: float, ohms: float, feeders: Mapping[str, Feeder], drawn: Mapping[str, list[Drawn]]
) -> dict[str, Legs]:
    """The volts left at the source and at the end of every feeder, by its name.

    drawn: what hangs at each of them directly.
    """
    nearest_last = sorted(feeders, key=lambda key: -_depth(feeders, key))
    at = {key: list(parts) for key, parts in drawn.items()}
    seen: dict[str, Drawn] = {}
    for key in nearest_last:
        seen[key] = together(at.get(key, ()))
        at.setdefault(feeders[key].behind, []).append(seen[key].behind(feeders[key].ohms))
    volts = {SOURCE: together(at.get(SOURCE, ())).volts((nominal, nominal), ohms)}
    for key in reversed(nearest_last):
        volts[key] = seen[key].volts(volts[feeders[key].behind], feeders[key].ohms)
    return volts


def _depth(feeders: Mapping[str, Feeder], key: str) -> int:
    return 0 if key == SOURCE else 1 + _depth(feeders, feeders[key].behind)
