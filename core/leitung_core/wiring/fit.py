"""Whether terminals take a gauge; a proposal that would put more on one than it takes is not made."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Any

from leitung_core.findings import Finding
from leitung_core.plant.make import thinner
from leitung_core.plant.plant import ENDS, Plant, Post


def takes(post: Post, awg: str) -> tuple[bool, bool]:
    """Whether a terminal takes a gauge: not too thin for it, not too thick."""
    least, most = post.terminal.awg_min, post.terminal.awg_max
    return not (least and thinner(awg, least)), not (most and thinner(most, awg))


def held_back(plant: Plant, rows: Iterable[Finding]) -> Iterator[Finding]:
    """Findings without fixes that put more on a terminal than it takes; a stop is mended all the same."""
    for row in rows:
        fits = (
            row.severity == "stop"
            or row.fix is None
            or all(_fits(plant, cable, awg) for cable, awg in _gauges(plant, row.fix))
        )
        yield row if fits else row.model_copy(update={"fix": None, "fix_label": None})


def _gauges(plant: Plant, fix: dict[str, Any]) -> Iterator[tuple[str, str]]:
    """The cables that a change gives a gauge, and which."""
    for key, change in (fix.get("cables") or {}).items():
        if (change or {}).get("awg"):
            yield key, change["awg"]
    for line_id, change in (fix.get("circuits") or {}).items():
        for segment, what in ((change or {}).get("run") or {}).items():
            for key in plant.lines[line_id].cables if (what or {}).get("conductor") else ():
                cable = plant.plan.cables[key]
                if cable.awg is None and (cable.segments == [] or segment in (cable.segments or [])):
                    yield key, what["conductor"]


def _fits(plant: Plant, cable: str, awg: str) -> bool:
    posts = [plant.post(wire, end) for wire in plant.wires.get(cable, ()) for end in ENDS]
    return all(all(takes(post, awg)) for post in posts if post is not None)
