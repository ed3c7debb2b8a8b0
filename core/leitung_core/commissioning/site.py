"""What the authority asks of an install, as the site says it: permit and licence, inspections."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from leitung_core.commissioning.steps import StartStep
from leitung_core.plan.model import Site

ABOUT = "site"
CARD = "Who passed it and when: a photo of the card."


def permitted(site: Site) -> StartStep:
    """The permit at hand; where nobody has said a word of it, the authority is asked."""
    found = [f"permit {site.permit}" if site.permit else "", f"of {site.permit_date}" if site.permit_date else "",
             f"under licence {site.licence}" if site.licence else ""]  # fmt: skip
    said = " ".join(word for word in found if word)
    text = (
        f"{said[:1].upper()}{said[1:]}: posted at the site, and it covers this work."
        if site.permit or site.licence
        else "Ask the authority: is a permit asked, whose licence, which inspections. Write them at Site."
    )
    return StartStep(key="site.permit", about=ABOUT, phase="survey", text=text, minutes=2)


def inspected(site: Site, left: Sequence[str]) -> Iterator[StartStep]:
    """The inspections that the site says; `left`: the steps with which each line is left."""
    asked = site.inspections or []
    if "rough-in" in asked:
        yield StartStep(
            key="site.rough-in", about=ABOUT, phase="before_power", needs=["site.permit"], hold=True, does="hold",
            text=f"Rough-in inspection passed, before anything is closed in. {CARD}",
        )  # fmt: skip
    if "final" in asked:
        yield StartStep(
            key="site.final", about=ABOUT, phase="leave", needs=["site.permit", *left], hold=True, does="hold",
            text=f"Final inspection passed. {CARD}",
        )  # fmt: skip
