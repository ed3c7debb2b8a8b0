"""What stands at each panel, device and cable: the keys of its findings, wherever a screen or a sheet shows it."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from leitung_core.findings import Finding
from leitung_core.result.lines import DrawnLine, upwards

THINGS = ("sources", "devices", "cables")


def standing(findings: Iterable[Finding], drawn: Mapping[str, DrawnLine]) -> dict[str, list[str]]:
    """For each address with something against it, the keys in their order; what is told of a part stands at the whole.

    A stretch of a line and the cable as which it is landed are one thing: what is told of the one stands at the other.
    """
    landed: dict[str, set[str]] = {}
    for line in drawn.values():
        for part in line.parts:
            if part.cable and part.kind == "segment":
                for key in part.findings:
                    landed.setdefault(key, set()).add(f"cables/{part.cable}")
    found: dict[str, list[str]] = {}
    for row in findings:
        own = {address for address in upwards(row.about) if "/" in address and address.partition("/")[0] in THINGS}
        for address in sorted(own | landed.get(row.key, set())):
            found.setdefault(address, []).append(row.key)
    return found
