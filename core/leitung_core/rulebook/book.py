"""The rulebook: one edition of the code, answered from its tables. Outside a table it is None, never a guess."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal
from functools import cache, cached_property, lru_cache, partial
from typing import Literal

from leitung_core.explain import Step
from leitung_core.rulebook.articles import cite
from leitung_core.rulebook.editions import Edition
from leitung_core.rulebook.editions import edition as edition_of
from leitung_core.rulebook.schools import NOTHING_LOCAL, Local, schools
from leitung_core.rulebook.tables import Table, table_of
from leitung_core.units import say

Material = Literal["Cu", "Al"]


@dataclass(frozen=True)
class Method:
    """A wiring method. `limit_c` caps the ampacity at that column; `starts_c` is where correction starts."""

    name: str
    starts_c: int
    limit_c: int | None
    wet: Literal["yes", "no", "listed"]
    is_cable: bool
    factory_egc: bool
    article_ampacity: str


@dataclass(frozen=True)
class Raceway:
    """A raceway. `egc`: whether it may itself be the grounding conductor."""

    name: str
    wet: bool
    flexible: bool
    egc: Literal["yes", "no", "limited"]


@dataclass(frozen=True)
class OutdoorGfci:
    """210.8(F) as an edition has it; a bound that is not there is None."""

    asked: bool
    most_to_ground_v: Decimal
    most_a: Decimal
    exception_until: date | None
    excepted_kinds: tuple[str, ...]


@dataclass(frozen=True)
class GfciRoom:
    """A room of 210.8(A) or (B) with the bounds of the receptacles that it reaches; None: no bound."""

    room: str
    occupancy: Literal["dwelling", "other"]
    article: str
    most_v: Decimal | None
    most_to_ground_v: Decimal | None
    most_a: Decimal | None


@dataclass(frozen=True)
class SmallConductor:
    """The limit of 240.4(D) for one size."""

    max_ocpd_a: Decimal
    article: str


@dataclass(frozen=True)
class Configuration:
    """A receptacle by its configuration: rating, A; nominal volts of its circuits; whether it has a neutral."""

    rating_a: Decimal
    volts: tuple[Decimal, ...]
    neutral: bool


@dataclass(frozen=True)
class ReceptacleRating:
    """A receptacle on a branch with several: the branches it may be on, and the most that one plug may draw, A."""

    branches_a: tuple[Decimal, ...]
    most_load_a: Decimal | None


@dataclass(frozen=True)
class Factor:
    """One row of the factors: its value, unit, article, and whether the code, advice or practice says it."""

    value: Decimal
    unit: str
    article: str
    source: str


def _number(text: str) -> Decimal:
    """A figure of the table; a part is written 1/3."""
    top, _, bottom = text.partition("/")
    return Decimal(top) / Decimal(bottom) if bottom else Decimal(top)


class Rulebook:
    """Look-ups of one edition. Sizes are texts as printed: "14", "1/0", "250".

    `answers` are the schools that amendments chose; every other question has its default.
    """

    def __init__(
        self, edition: str, answers: Mapping[str, str] | None = None, figures: Mapping[str, Decimal] | None = None
    ) -> None:
        self.edition = edition_of(edition)
        self.answers, self.figures = dict(answers or {}), dict(figures or {})
        self._in_force = {key: entry.default for key, entry in schools().items()} | self.answers

    def school(self, question: str) -> str:
        """The answer in force: an amendment's, else the default."""
        return self._in_force[question]

    def cite(self, citation: str) -> str:
        """A citation of the 2023 edition in the numbers of this one."""
        return self._cited(citation)

    @cached_property
    def _cited(self) -> Callable[[str], str]:
        return lru_cache(maxsize=4096)(partial(cite, edition=self.edition))

    def cited(self, steps: Iterable[Step]) -> list[Step]:
        """Steps with their articles in the numbers of this edition."""
        return [replace(row, article=self.cite(row.article)) for row in steps]

    def _table(self, name: str) -> Table:
        return table_of(self.edition, name)

    @cached_property
    def _factors(self) -> dict[str, Factor]:
        return {
            row["key"]: Factor(_number(row["value"]), row["unit"], row["article"], row["source"])
            for row in self._table("factors").rows
        }

    def factor(self, key: str) -> Decimal:
        """A factor, bound or length of the rules, as the edition has it, or as a local amendment sets it."""
        local = self.figures.get(key)
        return local if local is not None else self._factors[key].value

    def article_of(self, key: str) -> str:
        """The article of a factor, in the numbers of this edition; local where an amendment sets it."""
        return "local amendment" if key in self.figures else self.cite(self._factors[key].article)

    def percent(self, key: str) -> str:
        """A factor as people say it: 125 %."""
        return f"{say(self.factor(key) * 100, 2)} %"

    @cached_property
    def _ampacities(self) -> dict[tuple[str, str], dict[int, Decimal]]:
        return {
            (row["material"], row["size"]): {column: Decimal(row[f"c{column}"]) for column in (60, 75, 90)}
            for row in self._table("310_16").rows
        }

    @cached_property
    def sizes(self) -> tuple[str, ...]:
        """Every conductor size that the ampacity table has, thinnest first."""
        return tuple(size for material, size in self._ampacities if material == "Cu")

    def ampacity_a(self, material: Material, size: str, column_c: int) -> Decimal | None:
        """Table 310.16, A, or None where the table does not have that size in that material."""
        row = self._ampacities.get((material, size))
        return row[column_c] if row else None

    def ambient_factor(self, ambient_c: Decimal, column_c: int) -> Decimal | None:
        """Table 310.15(B)(1)(1); None where the insulation is not permitted at that ambient.

        Between two rows (30.5 °C) the hotter row counts.
        """
        for hottest_c, factors in self._ambient_rows:
            if ambient_c <= hottest_c:
                return factors[column_c]
        return None

    @cached_property
    def _ambient_rows(self) -> tuple[tuple[Decimal, dict[int, Decimal | None]], ...]:
        return tuple(
            (
                Decimal(row["t_max_C"]),
                {column: Decimal(row[f"c{column}"]) if row[f"c{column}"] else None for column in (60, 75, 90)},
            )
            for row in self._table("310_15_B_1_1").rows
        )

    def adjustment(self, current_carrying: int) -> Decimal:
        """Table 310.15(C)(1) as a factor; 1 for up to three current-carrying conductors."""
        for least, most, factor in self._adjustments:
            if least <= current_carrying <= most:
                return factor
        return Decimal(1)

    @cached_property
    def _adjustments(self) -> tuple[tuple[int, int, Decimal], ...]:
        rows = self._table("310_15_C_1").rows
        return tuple((int(row["ccc_min"]), int(row["ccc_max"] or 10**6), Decimal(row["percent"]) / 100) for row in rows)

    def roof_adder_c(self, above_roof_in: Decimal, method: str) -> Decimal:
        """310.15(B)(2), °C, for a raceway or cable in direct sun over a roof."""
        row = self._table("rooftop_310_15_B_2").rows[0]
        if method == row["exempt_method"] or above_roof_in >= Decimal(row["below_in"]):
            return Decimal(0)
        return Decimal(row["adder_c"])

    @cached_property
    def standard_ratings_a(self) -> tuple[Decimal, ...]:
        """Table 240.6(A), A, ascending."""
        return tuple(Decimal(row["rating_A"]) for row in self._table("240_6A").rows)

    @cached_property
    def disconnect_ratings_a(self) -> tuple[Decimal, ...]:
        """Common disconnect ratings, A, ascending."""
        return tuple(Decimal(row["rating_a"]) for row in self._table("disconnect_sizes").rows)

    def next_standard_a(self, amps: Decimal) -> Decimal | None:
        """The smallest standard rating at or above `amps` (240.4(B)); None above the table."""
        at = bisect_left(self.standard_ratings_a, amps)
        return self.standard_ratings_a[at] if at < len(self.standard_ratings_a) else None

    def small_conductor(self, material: Material, size: str) -> SmallConductor | None:
        """240.4(D), or None for sizes above 10 AWG."""
        return self._small_conductors.get((material, size))

    @cached_property
    def _small_conductors(self) -> dict[tuple[str, str], SmallConductor]:
        return {
            (row["material"], row["size"]): SmallConductor(Decimal(row["max_ocpd_A"]), f"240.4{row['para_2023']}")
            for row in self._table("240_4D").rows
        }

    def egc_size(self, ocpd_a: Decimal, material: Material) -> str | None:
        """Table 250.122, or None above 600 A."""
        return next((sizes[material.lower()] for most, sizes in self._egc_rows if ocpd_a <= most), None)

    @cached_property
    def _egc_rows(self) -> tuple[tuple[Decimal, dict[str, str]], ...]:
        return tuple((Decimal(row["ocpd_not_exceeding_A"]), row) for row in self._table("250_122").rows)

    def factory_egc(self, size: str) -> str | None:
        """The grounding conductor inside a non-metallic cable of that size, or None where not known."""
        return next((row["egc"] for row in self._table("nm_b_factory_egc").rows if row["size"] == size), None)

    @cached_property
    def _conductors(self) -> dict[tuple[str, str], dict[str, str]]:
        return {(row["size"], row["construction"]): row for row in self._table("ch9_table8").rows}

    def area_cmil(self, size: str) -> Decimal | None:
        """Chapter 9 Table 8, circular mils; kcmil sizes are their own area."""
        return self._areas_cmil.get(size)

    @cached_property
    def _areas_cmil(self) -> dict[str, Decimal]:
        listed = {size: Decimal(row["cmil"]) for (size, _), row in self._conductors.items()}
        return listed | {size: Decimal(size) * 1000 for size in self.sizes if size not in listed}

    def ohm_per_kft(self, size: str, construction: str, material: Material) -> Decimal | None:
        """Chapter 9 Table 8, ohm per 1000 ft at 75 °C (uncoated copper), or None outside the table."""
        return self._resistances.get((material, size, construction))

    @cached_property
    def _resistances(self) -> dict[tuple[str, str, str], Decimal]:
        columns: tuple[tuple[Material, str], ...] = (("Cu", "cu_uncoated"), ("Al", "al"))
        return {
            (material, size, construction): Decimal(row[column])
            for (size, construction), row in self._conductors.items()
            for material, column in columns
        }

    def impedance_ohm_per_kft(self, size: str, raceway: str) -> Decimal | None:
        """Chapter 9 Table 9, effective Z of copper at 0.85 power factor, ohm per 1000 ft; None outside the table."""
        column = "Z085_steel" if raceway == "EMT" else "Z085_pvc"
        return next((Decimal(row[column]) for row in self._table("ch9_table9").rows if row["size"] == size), None)

    def cord_ampacity_a(self, size: str, current_carrying: int) -> Decimal | None:
        """Table 400.5(A)(1), A: column B for two current-carrying conductors, column A for three; else None."""
        column = {2: "colB_A", 3: "colA_A"}.get(current_carrying)
        rows = self._table("cord_400_5").rows
        return next((Decimal(row[column]) for row in rows if column and row["size"] == size), None)

    @cached_property
    def cord_sizes(self) -> tuple[str, ...]:
        """The cord sizes of Table 400.5(A)(1), thinnest first."""
        return tuple(row["size"] for row in self._table("cord_400_5").rows)

    def conductor_area_in2(self, insulation: str, size: str) -> Decimal | None:
        """Chapter 9 Table 5, square inches over the insulation; None outside the table."""
        return self._insulated_areas.get((insulation, size))

    @cached_property
    def _insulated_areas(self) -> dict[tuple[str, str], Decimal]:
        rows = self._table("ch9_table5").rows
        return {(row["insulation"], row["size"]): Decimal(row["area_in2"]) for row in rows}

    @cached_property
    def raceway_areas_in2(self) -> dict[str, dict[str, Decimal]]:
        """Chapter 9 Table 4, internal area in square inches by raceway and trade size, smallest first."""
        found: dict[str, dict[str, Decimal]] = {}
        for row in self._table("ch9_table4").rows:
            found.setdefault(row["raceway"], {})[row["trade_size"]] = Decimal(row["area_in2"])
        return found

    @cached_property
    def _fills(self) -> dict[str, Decimal]:
        return {row["conductors"]: Decimal(row["percent"]) / 100 for row in self._table("ch9_table1").rows}

    def fill_allowed(self, conductors: int, nipple: bool) -> Decimal:
        """Chapter 9 Table 1 as a part of the area: 53 % for one, 31 % for two, 40 % for more, 60 % in a nipple."""
        return self._fills["nipple" if nipple else str(min(conductors, 3))]

    def outdoor_gfci(self) -> OutdoorGfci:
        """What 210.8(F) asks of a dwelling's outdoor outlet, and until when which units were excepted."""
        row = self._table("gfci_outdoor").rows[0]
        until = row["exception_until"]
        return OutdoorGfci(
            asked=row["asked"] == "yes",
            most_to_ground_v=Decimal(row["most_to_ground_v"] or 0),
            most_a=Decimal(row["most_a"] or 0),
            exception_until=date.fromisoformat(until) if until else None,
            excepted_kinds=tuple(row["excepted_kinds"].split()),
        )

    def gfci_rooms(self) -> tuple[GfciRoom, ...]:
        """The rooms of 210.8(A) and (B)."""
        return tuple(
            GfciRoom(
                row["room"],
                "dwelling" if row["occupancy"] == "dwelling" else "other",
                row["article"],
                *(Decimal(row[name]) if row[name] else None for name in ("most_v", "most_to_ground_v", "most_a")),
            )
            for row in self._table("gfci_rooms").rows
        )

    def configurations(self) -> dict[str, Configuration]:
        """Receptacles and plugs by configuration."""
        return {
            row["configuration"]: Configuration(
                Decimal(row["rating_a"]),
                tuple(Decimal(volts) for volts in row["volts"].split()),
                row["neutral"] == "yes",
            )
            for row in self._table("receptacles").rows
        }

    def receptacles(self) -> dict[Decimal, ReceptacleRating]:
        """Tables 210.21(B)(2) and (B)(3), by the rating of the receptacle, A."""
        return {
            Decimal(row["receptacle_a"]): ReceptacleRating(
                tuple(Decimal(branch) for branch in row["branches_a"].split()),
                Decimal(row["most_load_a"]) if row["most_load_a"] else None,
            )
            for row in self._table("210_21_B").rows
        }

    @cached_property
    def methods(self) -> dict[str, Method]:
        """The wiring methods by name."""
        return {
            row["method"]: Method(
                row["method"],
                int(row["starts_c"]),
                int(row["limit_c"]) if row["limit_c"] else None,
                row["wet"],  # type: ignore[arg-type]
                row["kind"] == "cable",
                row["factory_egc"] == "yes",
                row["article_ampacity"],
            )
            for row in self._table("wiring_methods").rows
        }

    @cached_property
    def raceways(self) -> dict[str, Raceway]:
        """The raceways by name."""
        return {
            row["raceway"]: Raceway(row["raceway"], row["wet"] == "yes", row["flexible"] == "yes", row["egc"])  # type: ignore[arg-type]
            for row in self._table("raceways").rows
        }

    def sizes_from(self, material: Material, least: str | None = None) -> Iterator[str]:
        """Sizes in that material, thinnest first, from `least` on."""
        start = self.sizes.index(least) if least in self.sizes else 0
        return (size for size in self.sizes[start:] if (material, size) in self._ampacities)

    def not_thinner(self, size: str, than: str) -> bool:
        """Whether `size` is at least as large as `than`, by area."""
        area, other = self.area_cmil(size), self.area_cmil(than)
        return area is not None and other is not None and area >= other

    def tables(self) -> tuple[Table, ...]:
        """Every table of the edition, for display."""
        return tuple(self._table(name) for name in TABLES)


TABLES = (
    "310_16", "310_15_B_1_1", "310_15_C_1", "rooftop_310_15_B_2", "240_4D", "240_6A", "250_122", "cord_400_5",
    "ch9_table1", "ch9_table4", "ch9_table5", "ch9_table8", "ch9_table9", "gfci_outdoor", "gfci_rooms",
    "210_21_B", "receptacles", "nm_b_factory_egc", "wiring_methods", "raceways", "disconnect_sizes", "factors",
)  # fmt: skip


def rulebook(edition: str, local: Local = NOTHING_LOCAL) -> Rulebook:
    """The rulebook of that edition with what is in force locally. Raises InputError where it is not at hand."""
    return _rulebook(edition_of(edition), local)


@cache
def _rulebook(edition: Edition, local: Local) -> Rulebook:
    return Rulebook(edition.id, dict(local.answers), dict(local.figures))
