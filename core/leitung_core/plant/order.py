"""The order in which lines are read: panel by panel from the supply down, each by its spaces."""

from __future__ import annotations

from leitung_core.plan.model import Plan, feeding


def sources_in_order(plan: Plan) -> list[str]:
    """Sources that nothing feeds first, panels before the rest, each followed by what it feeds."""
    ordered: list[str] = []

    def visit(source_id: str) -> None:
        if source_id in ordered:
            return
        ordered.append(source_id)
        for circuit_id in lines_of(plan, source_id):
            below = plan.circuits[circuit_id].feeds
            if below is not None:
                visit(below)

    fed = feeding(plan)
    roots = [source_id for source_id in plan.sources if source_id not in fed]
    for source_id in sorted(roots, key=lambda key: (plan.sources[key].kind != "panel", key)):
        visit(source_id)
    return ordered + [source_id for source_id in plan.sources if source_id not in ordered]


def lines_of(plan: Plan, source_id: str | None) -> list[str]:
    """The lines that begin at a source (None: at none yet), by their first space, then by id."""
    mine = [key for key, circuit in plan.circuits.items() if circuit.source == source_id]

    def place(key: str) -> tuple[int, str]:
        spaces = (plan.circuits[key].ocpd and plan.circuits[key].ocpd.spaces) or []  # type: ignore[union-attr]
        return min(spaces, default=10_000), key

    return sorted(mine, key=place)
