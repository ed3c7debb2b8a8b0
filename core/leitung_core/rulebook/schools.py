"""Where inspectors and practitioners disagree: the questions, the schools, our defaults, and local amendments.

The default takes the safe side. An amendment chooses otherwise for a jurisdiction, and says who said so, and when.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from functools import cache
from importlib.resources import files
from typing import Annotated, Any

import orjson
from pydantic import Discriminator, Field, Tag, field_validator, model_validator

from leitung_core.errors import InputError, Problem
from leitung_core.rulebook.tables import read_table
from leitung_core.units import exact
from leitung_core.validation import Entered, Id, Positive, Text, read


class School(Entered):
    """One question with its answers; `default` is the one that Leitung takes."""

    question: Text
    article: Text
    options: dict[str, Text]
    default: str


class Amendment(Entered):
    """A local rule: which school it chooses, who said so and when, and between which days it holds."""

    title: Text
    said_by: Text = Field(description="the authority, and where it says so")
    said_on: date
    holds_from: date | None = Field(None, description="it holds for permits from this day on")
    holds_until: date | None = Field(None, description="the last day on which it holds")
    choices: Annotated[dict[str, str], Field(max_length=30)] = Field({}, description="answers to questions of practice")
    figures: Annotated[dict[str, Positive], Field(max_length=30)] = Field(
        {}, description="factors, bounds and lengths of factors.csv that differ here"
    )

    @field_validator("choices")
    @classmethod
    def _known(cls, choices: dict[str, str]) -> dict[str, str]:
        for question, answer in choices.items():
            school = schools().get(question)
            if school is None:
                raise ValueError(f"there is no question {question!r}: use one of {', '.join(schools())}")
            if answer not in school.options:
                raise ValueError(f"{question} has no answer {answer!r}: use one of {', '.join(school.options)}")
        return choices

    @field_validator("figures")
    @classmethod
    def _known_figures(cls, figures: dict[str, float]) -> dict[str, float]:
        known = {row["key"] for row in read_table("factors").rows}
        for key in figures:
            if key not in known:
                raise ValueError(f"there is no figure {key!r}: use one of {', '.join(sorted(known))}")
        return figures

    @model_validator(mode="after")
    def _in_order(self) -> Amendment:
        if self.holds_from and self.holds_until and self.holds_from > self.holds_until:
            raise ValueError("it ends before it begins: correct one of the two days")
        if not self.choices and not self.figures:
            raise ValueError("it changes nothing: choose an answer or set a figure")
        return self


def _sort(value: Any) -> str:
    return "id" if isinstance(value, str) else "amendment"


# An amendment that ships, by its id, or one in full.
AmendmentOrId = Annotated[Annotated[Id, Tag("id")] | Annotated[Amendment, Tag("amendment")], Discriminator(_sort)]


@cache
def schools() -> Mapping[str, School]:
    """Every question on which practice differs, by its key."""
    return {key: read(School, row) for key, row in _data("schools").items()}


@cache
def known_amendments() -> Mapping[str, Amendment]:
    """The amendments that ship as data, by id. All jurisdictions in them are invented."""
    return {key: read(Amendment, row) for key, row in _data("amendments").items()}


def _data(name: str) -> dict[str, Any]:
    found: dict[str, Any] = orjson.loads(files("leitung_core.rulebook").joinpath("us", f"{name}.json").read_bytes())
    return found


@dataclass(frozen=True)
class Local:
    """What local amendments set: answers to questions of practice, figures, and who said so; each sorted."""

    answers: tuple[tuple[str, str], ...] = ()
    figures: tuple[tuple[str, Decimal], ...] = ()


NOTHING_LOCAL = Local()


@dataclass(frozen=True)
class Chosen:
    """What is in force, and the titles of amendments that do not hold on the permit's date."""

    local: Local
    not_in_force: tuple[str, ...]
    undated: tuple[str, ...]


def choose_schools(amendments: Sequence[str | Amendment], permit_date: date | None) -> Chosen:
    """What the amendments choose for a permit of that date. Raises InputError for an id that is not known.

    Without a permit date an amendment with days of its own is applied, and named as undated.
    """
    answers: dict[str, str] = {}
    figures: dict[str, Decimal] = {}
    asleep, undated = [], []
    for index, entry in enumerate(amendments):
        amendment = known_amendments().get(entry) if isinstance(entry, str) else entry
        if amendment is None:
            known = ", ".join(known_amendments())
            raise InputError(
                Problem(f"amendments[{index}]", entry, "there is no such amendment", f"Use one of: {known}.")
            )
        if permit_date is None and (amendment.holds_from or amendment.holds_until):
            undated.append(amendment.title)
        elif permit_date and not _holds(amendment, permit_date):
            asleep.append(amendment.title)
            continue
        answers |= amendment.choices
        figures |= {key: exact(value) for key, value in amendment.figures.items()}
    local = Local(tuple(sorted(answers.items())), tuple(sorted(figures.items())))
    return Chosen(local, tuple(asleep), tuple(undated))


def _holds(amendment: Amendment, on: date) -> bool:
    return (amendment.holds_from is None or amendment.holds_from <= on) and (
        amendment.holds_until is None or on <= amendment.holds_until
    )
