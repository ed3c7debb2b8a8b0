"""The work list as one text: a line for each task, changed as text and read back as a change of the plan.

`key | who | minutes | after | what`. A line taken out: the task is left out, or gone where it was one of its own. A
line without a key: a new one. In what order the lines stand says nothing: what comes first says `after`.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any

from leitung_core.entry.ranges import read_range
from leitung_core.errors import InputError, Problem
from leitung_core.plan.work import SKILLS, Skill, Work
from leitung_core.units import say
from leitung_core.validation import shorten
from leitung_core.worklist.tasks import WorkList, WorkTask

HEAD = "# key | who | minutes | after | what"
CELLS = 5
MOST_LINES, LONGEST_LINE, LONGEST_WORDS, MOST_HANDS = 500, 2000, 200, 6
Entered = Mapping[str, Work]
Change = dict[str, Any]


def write_work(found: WorkList, entered: Entered) -> str:
    """The tasks that are in the list; `entered`: what the plan has of them itself."""
    rows = [_cells(task, entered) for task in found.tasks]
    wide = [max((len(row[place]) for row in rows), default=0) for place in range(CELLS - 1)]
    lines = [
        " | ".join([*(cell.ljust(width) for cell, width in zip(row, wide, strict=False)), row[-1]]) for row in rows
    ]
    return "\n".join([HEAD, *lines, ""])


def _cells(task: WorkTask, entered: Entered) -> tuple[str, ...]:
    own = entered.get(task.key)
    after = ", ".join(own.after or ()) if own else ""
    words = " ".join(task.text.replace("|", "/").split())
    return task.key, " + ".join(task.people), _minutes(task), after, words


def _minutes(task: WorkTask) -> str:
    low, high = say(task.minutes.low), say(task.minutes.high)
    return f"{low} min" if low == high else f"{low} to {high} min"


def read_work(text: str, found: WorkList, entered: Entered) -> Change:
    """What a changed text says otherwise, as the `work` of a patch; empty where nothing is.

    Raises InputError naming each line that cannot be meant.
    """
    was = {task.key: _cells(task, entered) for task in found.tasks}
    problems: list[Problem] = []
    changes: dict[str, Any] = {}
    seen: set[str] = set()
    fresh = _fresh({*was, *entered, *(task.key for task in found.left_out)})
    for line, cells in _lines(text, problems):
        key = cells[0]
        if key and key not in was:
            problems.append(Problem(f"line {line}, key", shorten(key), "is no task of this list",
                                    "Leave the key out for a task of your own."))  # fmt: skip
        elif key and key in seen:
            problems.append(Problem(f"line {line}, key", key, "stands twice", "Take one of the two lines out."))
        else:
            seen.add(key)
            change = _change(line, cells, was.get(key), problems)
            if change:
                changes[key or next(fresh)] = change
    if problems:
        raise InputError(*problems[:20])
    known = {*seen, *changes}
    for key, change in changes.items():
        for one in change.get("after") or ():
            if one not in known or one == key:
                problems.append(Problem("after", one, "is no other task of this list", "Name the key of one."))
    if problems:
        raise InputError(*problems[:20])
    own = {task.key for task in found.tasks if task.kind == "own"}
    gone: Change = {key: None if key in own else {"left_out": True} for key in was if key not in seen}
    return {**changes, **gone}


def _fresh(taken: set[str]) -> Iterator[str]:
    number = 0
    while True:
        number += 1
        if f"own-{number}" not in taken:
            yield f"own-{number}"


def _lines(text: str, problems: list[Problem]) -> Iterator[tuple[int, list[str]]]:
    lines = text.splitlines()
    if len(lines) > MOST_LINES:
        raise InputError(Problem("text", len(lines), "has too many lines", f"At most {MOST_LINES}."))
    for number, line in enumerate(lines, start=1):
        if not line.strip() or line.lstrip().startswith("#"):
            continue
        cells = [" ".join(cell.split()) for cell in line.split("|")]
        if len(cells) != CELLS or len(line) > LONGEST_LINE:
            problems.append(Problem(f"line {number}", shorten(line), "is not five parts with | between them",
                                    f"Write it as: {HEAD[2:]}. Parts may be empty."))  # fmt: skip
            continue
        yield number, cells


def _change(line: int, cells: list[str], was: tuple[str, ...] | None, problems: list[Problem]) -> Change:
    """What a line says otherwise than before."""
    _, who, minutes, after, words = cells
    before = was or ("",) * CELLS
    change: Change = {}
    if who != before[1]:
        change["people"] = _people(line, who, problems)
    if minutes != before[2]:
        change["minutes"] = _read_minutes(line, minutes, problems)
    if after != before[3]:
        change["after"] = after.replace(",", " ").split() or None
    if words != before[4] or was is None:
        if not words or len(words) > LONGEST_WORDS:
            problems.append(Problem(f"line {line}, what", shorten(words), "does not say what is done",
                                    f"Give 1 to {LONGEST_WORDS} characters."))  # fmt: skip
        change["text"] = words
    return change


def _people(line: int, who: str, problems: list[Problem]) -> list[Skill] | None:
    """One for each; nothing there: as the list has it by itself."""
    names = who.replace("+", " ").replace(",", " ").split()
    for name in names:
        if name not in SKILLS:
            problems.append(Problem(f"line {line}, who", shorten(name), "is no skill", f"Use {', '.join(SKILLS)}."))
    if len(names) > MOST_HANDS:
        problems.append(Problem(f"line {line}, who", len(names), "are too many hands", f"At most {MOST_HANDS}."))
    return [skill for name in names for skill in SKILLS if skill == name] or None


def _read_minutes(line: int, typed: str, problems: list[Problem]) -> list[float] | None:
    if not typed:
        return None
    try:
        found = read_range("minutes", typed)
    except InputError as error:
        problems += [Problem(f"line {line}, minutes", typed, one.message, one.remedy) for one in error.problems]
        return None
    return found if isinstance(found, list) else [found]
