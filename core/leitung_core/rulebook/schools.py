"""Where inspectors and practitioners disagree: the questions, the schools, our defaults, and local amendments.

The default takes the safe side. An amendment chooses otherwise for a jurisdiction, and says who said so, and when.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from functools import cache
from importlib.resources import files
from typing import Annotated, Any

import orjson
from pydantic import Discriminator, Field, Tag, field_validator, model_validator

from leitung_core.errors import InputError, Problem
from leitung_core.validation import Entered, Id, Text, read


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
    choices: Annotated[dict[str, str], Field(min_length=1, max_length=30)]

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

    @model_validator(mode="after")
    def _in_order(self) -> Amendment:
        if self.holds_from and self.holds_until and self.holds_from > self.holds_until:
            raise ValueError("it ends before it begins: correct one of the two days")
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
class Chosen:
    """The answers in force, sorted, and the titles of amendments that do not hold on the permit's date."""

    answers: tuple[tuple[str, str], ...]
    not_in_force: tuple[str, ...]
    undated: tuple[str, ...]


def choose_schools(amendments: Sequence[str | Amendment], permit_date: date | None) -> Chosen:
    """What the amendments choose for a permit of that date. Raises InputError for an id that is not known.

    Without a permit date an amendment with days of its own is applied, and named as undated.
    """
    answers: dict[str, str] = {}
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
    return Chosen(tuple(sorted(answers.items())), tuple(asleep), tuple(undated))


def _holds(amendment: Amendment, on: date) -> bool:
    return (amendment.holds_from is None or amendment.holds_from <= on) and (
        amendment.holds_until is None or on <= amendment.holds_until
    )
