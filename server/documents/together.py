"""The package: what an install's sheets say, in one PDF with contents, bookmarks and pages that count through."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterator, Mapping, Sequence
from typing import Any, Literal, NamedTuple, get_args

from accounts.models import User
from installs.actions import Checked
from records.models import Signature

from documents.control import control_paper
from documents.drawings import by_one_program
from documents.joined import css_text, joined
from documents.kept import begun
from documents.landings import landings_paper
from documents.laying import Laying, Part
from documents.package import directory_paper, schedule_paper
from documents.paper import Paper, heading
from documents.record import record_paper
from documents.trials import trials_paper

Chosen = Literal["record", "schedule", "directory", "landings", "controls", "trials"]
PARTS: tuple[Chosen, ...] = get_args(Chosen)
# About half of a large package: what begins it first has the others done beside it.
LARGEST = "Landings"


# Of many sheets together each stands closer.
CLOSER = """
body { line-height: 1.27; orphans: 1; widows: 1; }
p, td { orphans: 2; widows: 2; }
div.panel + div.panel { break-before: auto; margin-top: 16pt; }
.panel { break-inside: avoid; }
.panel + .panel header { display: none; }
.line .drawing img { max-height: 33mm; }
.cable { padding: 3pt 0 4pt; }
.cable .name { font-size: 9.5pt; }
.cable.third { width: 32.5%; }
.device { margin-top: 6pt; }
.device h2 { font-size: 10pt; line-height: 1.2; border-bottom-width: 1pt; padding-bottom: 0.5pt; }
.device .caution, .device .left { margin: 0; font-size: 7.5pt; line-height: 1.2; }
.landing th { padding: 0 5pt 0 0; font-size: 6.5pt; line-height: 1.2; }
.landing td { padding: 1.2pt 5pt 1.2pt 0; line-height: 1.15; }
.landing td, .spare { font-size: 7.5pt; }
.landing .terminal { font-size: 8pt; }
.landing .box { padding: 1.2pt 3pt; }
.rail .drawing img { max-height: 118mm; }
.rail { margin-top: 6pt; }
.ways td { font-size: 7.5pt; padding: 1pt 8pt 1pt 0; }
.matrix { margin-top: 8pt; }
.grid td { padding: 2.5pt 8pt 2.5pt 0; }
section.trial { display: inline-block; width: 49%; padding-right: 5mm; margin-bottom: 1mm; vertical-align: top; }
section.trial .drawing { width: 100%; }
section.trial table.why td { font-size: 7.5pt; padding: 1pt 0; }
section.trial table.why td:first-child { width: 33mm; }
section.trial .to-write { display: none; }
.circuit { padding: 2pt 0 3pt; }
.circuit .drawing img { max-height: 30mm; }
"""


class Section(NamedTuple):
    """A sheet of the package, how it is called in the contents, and what of it is named there by its anchor."""

    title: str
    paper: Callable[[], Paper]
    marks: Mapping[str, str] = {}

    @property
    def anchor(self) -> str:
        """Under which the contents lead to it: the same whatever stands before it, so that what is kept serves."""
        return "part-" + self.title.lower().replace(" ", "-")


def sections(found: Checked, user: User, parts: Collection[Chosen]) -> Iterator[Section]:
    """The sheets of some parts, in the order in which they are read. A part with nothing to say has none."""
    systems = list(found.result.of_systems())
    if "record" in parts:
        yield Section("Record", lambda: record_paper(found, user))
    if "schedule" in parts:
        # The record has every line's drawing already.
        yield Section("Circuit schedule", lambda: schedule_paper(found, user, drawn="record" not in parts))
    if "directory" in parts:
        yield Section("Panel directories", lambda: directory_paper(found, user))
    if "landings" in parts and (found.result.wiring.devices or found.result.wiring.cables):
        yield Section(LARGEST, lambda: landings_paper(found, user, None, None, close=True))
    if "controls" in parts and systems:
        marks = {f"system-{number}": f"Controls of {key}" for number, key in enumerate(systems, 1)}
        yield Section("Controls", lambda: control_paper(found, user, *systems), marks)
    if "trials" in parts and found.revision.brief.trials:
        yield Section("Starts tried", lambda: trials_paper(found, user))


class Together:
    """Several sheets as one: contents first, then each with its bookmark, numbered through."""

    def __init__(self, found: Checked, user: User, sections: Sequence[Section]) -> None:
        signed = Signature.objects.filter(install=found.install).order_by("at", "id").last()
        self.head, self.sections = heading(found, user) | {"signed": signed}, sections
        self.found, self.user = found, user

    def pdf(self) -> bytes:
        """The package as PDF. Its contents stand on one page: there are never more parts than it holds."""
        papers, waits = dict[str, Paper](), dict[str, Callable[[], Part]]()
        with Laying() as laying, by_one_program(self.found):
            for section in sorted(self.sections, key=lambda section: section.title != LARGEST):
                paper = papers[section.title] = section.paper()
                flat = paper.flat(_style(section.title), section.anchor)
                waits[section.title] = begun(self.found.install, self.user, section.title, flat, laying)
            parts = [waits[section.title]() for section in self.sections]
        rows, attached, titles = list[dict[str, Any]](), dict[str, bytes](), list[str]()
        for section, part in zip(self.sections, parts, strict=True):
            first = len(titles) + 2
            rows.append({"title": section.title, "page": first, "anchor": section.anchor})
            on = {anchor: first + index for index, anchors in enumerate(part.anchors) for anchor in anchors}
            rows += [
                {"title": title, "page": on[mark], "anchor": mark, "within": True}
                for mark, title in section.marks.items()
            ]
            titles += [section.title] * len(part.anchors)
            attached |= papers[section.title].attached
        contents = Paper("together.html", self.head | {"rows": rows, "total": len(titles) + 1})
        return joined(contents.flat(_style("Contents")), attached, parts, ["Contents", *titles], laying.styles)


def _style(title: str) -> str:
    """A part's bookmark is its name, and not the install's. What stands at its foot comes when its pages are known."""
    return (
        "@page { @bottom-right { content: none; } }\n"
        f'body {{ bookmark-label: "{css_text(title)}"; bookmark-level: 1; }}\n'
        f"{CLOSER}"
        "h1, h3 { bookmark-level: none; }\nh2 { bookmark-level: 2; }\n"
    )


def together(found: Checked, user: User, parts: Sequence[str]) -> Together:
    """The package of an install: all of it, or the parts that are wanted."""
    wanted = [part for part in PARTS if part in parts] or PARTS
    return Together(found, user, list(sections(found, user, wanted)))
