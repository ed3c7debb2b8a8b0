"""Rows of a load-out, gathered: what is asked for twice is one row that says everything it is for."""

from __future__ import annotations

from dataclasses import dataclass, field
from decimal import Decimal
from hashlib import blake2b
from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

from leitung_core.units import exact, tidy

Group = Literal[
    "cable", "conductor", "raceway", "fitting", "breaker", "disconnect", "device", "connector", "terminal", "label",
    "support", "tool", "consumable",
]  # fmt: skip
GROUPS: tuple[Group, ...] = (
    "breaker", "disconnect", "device", "cable", "conductor", "raceway", "fitting", "support", "connector", "terminal",
    "label", "consumable", "tool",
)  # fmt: skip


# What is there already, or comes out, is not taken along.
NOT_TAKEN = ("existing", "removed")


class Row(BaseModel):
    """So much of one thing; `for_`: the addresses in the plan that ask for it."""

    model_config = ConfigDict(frozen=True, populate_by_name=True)

    key: str = Field("", description="stable: what is packed refers to it")
    item: str
    group: Group
    quantity: float
    unit: Literal["ft", "pc"]
    for_: list[str] = Field(serialization_alias="for")
    poles: int | None = None
    amps: float | None = None
    awg: str | None = None
    conductors: int | None = None
    pieces: list[float] = Field([], description="of a cable or a conductor: the lengths that it is cut in, ft")


class Unknown(BaseModel):
    """Something of the plan that cannot be counted yet, and why."""

    model_config = ConfigDict(frozen=True)

    about: str
    says: str


class LoadOut(BaseModel):
    """Everything to take along, group by group, and what is not known."""

    model_config = ConfigDict(frozen=True)

    rows: list[Row]
    unknown: list[Unknown]


@dataclass
class Gathered:
    """Rows as they are gathered."""

    rows: dict[tuple[str, Group], Row] = field(default_factory=dict)
    unknown: dict[tuple[str, str], Unknown] = field(default_factory=dict)

    def add(
        self, group: Group, item: str, quantity: Decimal | float, *about: str, unit: Literal["ft", "pc"] = "pc",
        poles: int | None = None, amps: float | None = None, awg: str | None = None, conductors: int | None = None,
        cut: int = 0,
    ) -> None:  # fmt: skip
        """So much more of a thing, asked for by all of these addresses together; `cut` in so many like pieces."""
        before = self.rows.get((item, group))
        total = exact(quantity) + (exact(before.quantity) if before else 0)
        asked = [*(before.for_ if before else ()), *about]
        cuts = [tidy(exact(quantity) / cut, 2)] * cut if cut else []
        self.rows[item, group] = Row(
            key=f"{group}-{blake2b(item.encode(), digest_size=6).hexdigest()}", item=item, group=group,
            quantity=tidy(total, 2), unit=unit, for_=list(dict.fromkeys(asked)), poles=poles, amps=amps, awg=awg,
            conductors=conductors, pieces=[*(before.pieces if before else ()), *cuts],
        )  # fmt: skip

    def lacks(self, about: str, says: str) -> None:
        """Something that cannot be counted."""
        self.unknown[about, says] = Unknown(about=about, says=says)

    def done(self) -> LoadOut:
        """All rows in the order of their groups."""
        rows = sorted(self.rows.values(), key=lambda row: (GROUPS.index(row.group), row.item))
        return LoadOut(rows=rows, unknown=list(self.unknown.values()))
