"""Several loads on one branch or receptacle: what each may take, and whether they may run at once (210.23)."""

from __future__ import annotations

from decimal import Decimal
from typing import Annotated, Literal

from pydantic import Field

from leitung_core.explain import Step, step
from leitung_core.rulebook import Rulebook
from leitung_core.suit.verdict import Answer, Figure, Share, Suits, missing_answer
from leitung_core.units import exact, say, tidy
from leitung_core.validation import Entered, Positive, Text


class BranchLoad(Entered):
    """One load on the branch: plugged in, or fastened in place."""

    name: Text
    amps: Positive | None = None
    plugged_in: bool | None = None
    continuous: bool | None = None


class BranchQuestion(Entered):
    """A branch or a receptacle and what is to run on it."""

    ask: Literal["branch"]
    name: Text | None = None
    branch_a: Positive | None = None
    other_outlets: bool | None = Field(None, description="whether the branch also serves other outlets")
    load_sharing: bool | None = Field(None, description="whether a device keeps the loads from running at once")
    loads: Annotated[list[BranchLoad], Field(max_length=12)] = []


def branch_answer(question: BranchQuestion, book: Rulebook) -> Answer:
    """Whether each load may be on the branch, and whether all of them may run at once."""
    missing = [] if question.branch_a else ["the branch's rating"]
    missing += [] if question.loads else ["the loads"]
    missing += [f"amps of {load.name}" for load in question.loads if load.amps is None]
    missing += [f"whether {load.name} is plugged in" for load in question.loads if load.plugged_in is None]
    if missing:
        return missing_answer("branch", missing)
    shares = [_share(question, load, book) for load in question.loads]
    fixed = sum((exact(load.amps or 0) for load in question.loads if not load.plugged_in), exact(0))
    more = book.factor("continuous")
    together = sum(
        (exact(load.amps or 0) * (more if load.continuous is not False else 1) for load in question.loads),
        exact(0),
    )
    suits, verdict = _verdict(question, shares, fixed, together, book)
    return Answer(
        ask="branch",
        suits=suits,
        verdict=verdict,
        missing=[],
        shares=shares,
        figures=[Figure(what="All at once", value=tidy(together, 2), unit="A")],
        steps=_steps(question, together, fixed, book),
    )


def _verdict(
    question: BranchQuestion, shares: list[Share], fixed: Decimal, together: Decimal, book: Rulebook
) -> tuple[Suits, str]:
    in_place = book.factor("fixed-share")
    branch = exact(question.branch_a or 0)
    over = [share for share in shares if not share.fits]
    if over:
        return "no", f"{over[0].name} takes {say(over[0].amps)} A and may take {say(over[0].most_a)} A here."
    if question.other_outlets and fixed > branch * in_place:
        most = say(branch * in_place)
        return "no", f"What is fastened in place takes {say(fixed)} A; {most} A is the most beside other outlets."
    if together <= branch:
        return "yes", f"All may run at once: {say(together)} A of {say(branch)} A. Starting not looked at."
    if question.load_sharing:
        return "yes", "Each fits, and the load-sharing device keeps them from running at once."
    asked = f"together they ask for {say(together)} A of {say(branch)} A"
    return "no", f"Each fits alone, {asked}: one at a time, or a load-sharing device."


def _share(question: BranchQuestion, load: BranchLoad, book: Rulebook) -> Share:
    branch = exact(question.branch_a or 0)
    in_place = book.factor("fixed-share") if question.other_outlets else exact(1)
    part = book.factor("cord-share") if load.plugged_in else in_place
    most, amps = branch * part, exact(load.amps or 0)
    return Share(name=load.name, amps=float(amps), most_a=float(most), fits=amps <= most)


def _steps(question: BranchQuestion, together: Decimal, fixed: Decimal, book: Rulebook) -> list[Step]:
    in_place = f"fastened in place beside other outlets: {book.percent('fixed-share')} in all"
    rule = f"plugged in: {book.percent('cord-share')} each; {in_place}"
    sums = f"sum, continuous loads at {book.percent('continuous')}; unknown counts as continuous"
    return [
        step("branch", "Part of the branch", rule, None, "", book.cite("210.23"), branch_a=question.branch_a),
        step("branch", "All at once", sums, together, "A", book.cite("210.20(A)"), fixed_a=fixed),
    ]
