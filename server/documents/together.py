"""The package: what an install's sheets say, in one PDF with contents, bookmarks and pages that count through."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from typing import Any, Literal, NamedTuple, get_args

from accounts.models import User
from installs.actions import Checked
from records.models import Signature

from documents.control import control_paper
from documents.landings import landings_paper
from documents.package import directory_paper, schedule_paper
from documents.paper import Paper, heading, written
from documents.record import record_paper
from documents.trials import trials_paper

Part = Literal["record", "schedule", "directory", "landings", "controls", "trials"]
PARTS: tuple[Part, ...] = get_args(Part)


# Of many sheets together each stands closer, and of a strip what lands on it.
CLOSER = """
.landing td { padding: 1.5pt 5pt 1.5pt 0; font-size: 7.5pt; line-height: 1.2; }
.landing .terminal { font-size: 9pt; }
.landing .box { padding: 1.5pt 0 1.5pt 4pt; }
.landing .idle { display: none; }
.landing th { padding: 0 5pt 1pt 0; font-size: 7pt; }
.device { margin-top: 8pt; }
.device h2 { font-size: 10.5pt; border-bottom-width: 1pt; padding-bottom: 1pt; }
.strip { margin: 3pt 0 0; }
.note { font-size: 7.5pt; margin: 1pt 0 0; }
.caution { margin: 1pt 0; font-size: 8pt; }
.cable { padding: 3pt 0 4pt; }
.cable .name { font-size: 9.5pt; }
.cable .drawing svg { max-height: 58mm; }
.cable.half { width: 32.5%; }
.circuit { padding: 2pt 0 3pt; }
.circuit .drawing svg { max-height: 30mm; }
"""


class Section(NamedTuple):
    """A sheet of the package, and how it is called in the contents."""

    title: str
    paper: Paper


Sections = Callable[[Checked, User], Iterator[Section]]


def _controls(found: Checked, user: User) -> Iterator[Section]:
    for key in found.result.of_systems():
        yield Section(f"Controls of {key}", control_paper(found, user, key))


def _trials(found: Checked, user: User) -> Iterator[Section]:
    if found.revision.brief.trials:
        yield Section("Starts tried", trials_paper(found, user))


def _landings(found: Checked, user: User) -> Iterator[Section]:
    if found.result.wiring.devices or found.result.wiring.cables:
        yield Section("Landings", landings_paper(found, user, None, None))


SECTIONS: dict[Part, Sections] = {
    "record": lambda found, user: iter([Section("Record", record_paper(found, user))]),
    "schedule": lambda found, user: iter([Section("Circuit schedule", schedule_paper(found, user))]),
    "directory": lambda found, user: iter([Section("Panel directories", directory_paper(found, user))]),
    "landings": _landings,
    "controls": _controls,
    "trials": _trials,
}


class Together:
    """Several sheets as one: contents first, then each with its bookmark, numbered through."""

    def __init__(self, found: Checked, user: User, sections: Sequence[Section]) -> None:
        signed = Signature.objects.filter(install=found.install).order_by("at", "id").last()
        self.head, self.sections = heading(found, user) | {"signed": signed}, sections

    def pdf(self) -> bytes:
        """The package as PDF. Its contents stand on one page: there are never more parts than it holds."""
        pages, rows, attached = list[Any](), list[dict[str, Any]](), dict[str, bytes]()
        for number, section in enumerate(self.sections):
            first = len(pages) + 2
            document = section.paper.laid_out(_numbered(section.title, first), f"part-{number}")
            rows.append({"title": section.title, "page": first, "to": f"#part-{number}"})
            pages += document.pages
            attached |= section.paper.attached
        contents = Paper("together.html", self.head | {"rows": rows, "total": len(pages) + 1})
        first_page = contents.laid_out(_numbered("Contents", 1))
        return written(first_page.copy([*first_page.pages, *pages]), attached)


def _numbered(title: str, first: int) -> str:
    """A part's pages count on from those before it; its bookmark is its name, and not the install's."""
    said = title.replace("\\", "").replace('"', "")
    return (
        f'@page {{ @bottom-right {{ content: "{said}, page " counter(page); }} }}\n'
        f"@page :first {{ counter-set: page {first}; }}\n"
        f'body {{ bookmark-label: "{said}"; bookmark-level: 1; }}\n'
        f"{CLOSER}"
        "h1, h3 { bookmark-level: none; }\nh2 { bookmark-level: 2; }\n"
    )


def together(found: Checked, user: User, parts: Sequence[str]) -> Together:
    """The package of an install: all of it, or the parts that are wanted."""
    wanted = [part for part in PARTS if part in parts] or PARTS
    return Together(found, user, [section for part in wanted for section in SECTIONS[part](found, user)])
