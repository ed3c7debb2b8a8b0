"""`leitung starting` and `log`: trials on paper, and logs of what was measured. Exit codes as everywhere."""

from __future__ import annotations

from dataclasses import asdict
from typing import Annotated, Any

import typer
from leitung_core.cautions import QUALIFIED
from leitung_core.errors import InputError, Problem
from leitung_core.plan.model import read_plan
from leitung_core.starting.compared import compared, in_words
from leitung_core.starting.expected import expected, matched
from leitung_core.starting.log import ColumnRead, as_json, read_events
from leitung_core.starting.log_file import read_log
from leitung_core.starting.open_form import starting as answer

from leitung_cli.files import FileArgument, JsonOption, load, read_bytes
from leitung_cli.networks import print_json


def starting(file: FileArgument, as_json: JsonOption = False) -> None:
    """Judge a trial on paper, or a list of them: who starts, what trips and when, and the ways out."""
    data = load(file)
    rows = [answer(item, f"[{i}]") for i, item in enumerate(data)] if isinstance(data, list) else [answer(data)]
    if as_json:
        found = [row for row, _ in rows]
        print_json(found if isinstance(data, list) else found[0])
    else:
        for row, _ in rows:
            _print(row)
    raise SystemExit(1 if any(stop for _, stop in rows) else 0)


def _print(row: dict[str, Any]) -> None:
    print(row["verdict"].replace("_", " "))
    for why in row["why"]:
        print(
            f"  {why['at_s']:g} s  {why['about']}: {why['says']} ({why['value']:g} of {why['limit']:g} {why['unit']})"
        )
    for leg in row["legs"]:
        figures = {"peak": leg["peak_a"], "settled": leg["settled_a"], "left": leg["left_a"]}
        said = [f"{name} {value:g} A" if value is not None else f"{name} not known" for name, value in figures.items()]
        print(f"  leg {leg['leg']}: {', '.join(said)}")
    for way in row["ways_out"]:
        print(f"  way out: {way['says']}")
    for told in row["findings"]:
        print(f"  {told['severity']}: {told['message']}")
    print(f"  {QUALIFIED}")


LARGEST_LOG = 100_000_000


def log(
    file: Annotated[str, typer.Argument(help="a CSV file of a logged current, or - for standard input")],
    json_wanted: JsonOption = False,
    rating: Annotated[
        float | None, typer.Option("--rating", help="of the breaker, A: tells a trip from a stop")
    ] = None,
    plan: Annotated[str | None, typer.Option("--plan", help="the plan whose line was logged")] = None,
    circuit: Annotated[str | None, typer.Option("--circuit", help="the line that was logged")] = None,
    before: Annotated[
        str | None, typer.Option("--before", help="an earlier log of the same loads, without the start aid")
    ] = None,
) -> None:
    """Read a logged current: its settled stretches, and each start, step, stop and trip."""
    if (plan is None) != (circuit is None):
        raise InputError(Problem("plan", plan or circuit, "goes with a line", "Give --plan and --circuit together."))
    if rating is not None and not 0 < rating <= 10_000:
        raise InputError(Problem("rating", rating, "is no breaker's rating", "Give amperes, above 0 to 10000."))
    about = expected(read_plan(load(plan)), circuit) if plan is not None and circuit is not None else None
    known = rating if rating is not None else about.rating_a if about else None
    found = read_events(read_log(read_bytes(file, LARGEST_LOG), file), known)
    if about:
        found = [matched(column, about) for column in found]
    earlier = read_events(read_log(read_bytes(before, LARGEST_LOG), before), known) if before is not None else []
    taken = [row for one, two in zip(earlier, found, strict=False) for row in compared(one, two)]
    if json_wanted:
        told = {"taken": [asdict(row) for row in taken]} if before is not None else {}
        print_json({"columns": [as_json(column) for column in found], **told})
    else:
        for column in found:
            _print_column(column)
        for row in taken:
            print(f"  {row.after_at_s:g} s, {row.before_at_s:g} s before: {in_words(row)}")
    raise SystemExit(0)


def _print_column(column: ColumnRead) -> None:
    print(f"{column.column}: {column.samples} samples, one each {column.step_s:g} s, noise {column.noise_a:.2f} A")
    for event in column.events:
        least = " or more" if event.peak_is_least else ""
        peak = f", peak {event.peak_a:.1f} A{least}" if event.kind == "start" else ""
        likely = f"  {event.likely[0]['part']}: {event.likely[0]['because']}" if event.likely else ""
        name = event.kind.replace("_", " ")
        print(f"  {event.at_s:g} s  {name}: {event.before_a:.1f} to {event.settled_a:.1f} A{peak}{likely}")
    for row in column.findings:
        print(f"  {row.severity}: {row.message}")
