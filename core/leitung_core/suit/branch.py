"""Several loads on one branch or receptacle: what each may take, and whether they may run at once (210.23)."""

from __future__ import annotations

from decimal import Decimal
from typing import Annotated, Literal

from pydantic import Field

from leitung_core.circuits.branch import CORD_SHARE, FIXED_SHARE
from leitung_core.explain import Step, step
from leitung_core.suit.verdict import Answer, Figure, Share, Suits, missing_answer
from leitung_core.units import exact, say, tidy
from leitung_core.validation import Entered, Positive, Text

CONTINUOUS = exact("1.25")


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


def branch_answer(question: BranchQuestion) -> Answer:
    """Whether each load may be on the branch, and whether all of them may run at once."""
    missing = [] if question.branch_a else ["the branch's rating"]
    missing += [] if question.loads else ["the loads"]
    missing += [f"amps of {load.name}" for load in question.loads if load.amps is None]
    missing += [f"whether {load.name} is plugged in" for load in question.loads if load.plugged_in is None]
    if missing:
        return missing_answer("branch", missing)
    shares = [_share(question, load) for load in question.loads]
    fixed = sum((exact(load.amps or 0) for load in question.loads if not load.plugged_in), exact(0))
    together = sum(
        (exact(load.amps or 0) * (CONTINUOUS if load.continuous is not False else 1) for load in question.loads),
        exact(0),
    )
    suits, verdict = _verdict(question, shares, fixed, together)
    return Answer(
        ask="branch",
        suits=suits,
        verdict=verdict,
        missing=[],
        shares=shares,
        figures=[Figure(what="All at once", value=tidy(together, 2), unit="A")],
        steps=_steps(question, together, fixed),
    )


def _verdict(question: BranchQuestion, shares: list[Share], fixed: Decimal, together: Decimal) -> tuple[Suits, str]:
    branch = exact(question.branch_a or 0)
    over = [share for share in shares if not share.fits]
    if over:
        return "no", f"{over[0].name} takes {say(over[0].amps)} A and may take {say(over[0].most_a)} A here."
    if question.other_outlets and fixed > branch * FIXED_SHARE:
        most = say(branch * FIXED_SHARE)
        return "no", f"What is fastened in place takes {say(fixed)} A; {most} A is the most beside other outlets."
    if together <= branch:
        return "yes", f"All may run at once: {say(together)} A of {say(branch)} A."
    if question.load_sharing:
        return "yes", "Each fits, and the load-sharing device keeps them from running at once."
    asked = f"together they ask for {say(together)} A of {say(branch)} A"
    return "no", f"Each fits alone, {asked}: one at a time, or a load-sharing device."


def _share(question: BranchQuestion, load: BranchLoad) -> Share:
    branch = exact(question.branch_a or 0)
    part = CORD_SHARE if load.plugged_in else FIXED_SHARE if question.other_outlets else exact(1)
    most, amps = branch * part, exact(load.amps or 0)
    return Share(name=load.name, amps=float(amps), most_a=float(most), fits=amps <= most)


def _steps(question: BranchQuestion, together: Decimal, fixed: Decimal) -> list[Step]:
    rule = "plugged in: 80 % each; fastened in place beside other outlets: 50 % in all"
    sums = "sum, continuous loads at 125 %; unknown counts as continuous"
    return [
        step("branch", "Part of the branch", rule, None, "", "210.23", branch_a=question.branch_a),
        step("branch", "All at once", sums, together, "A", "210.20(A)", fixed_a=fixed),
    ]
