"""`leitung starting` and `log`: trials on paper, and logs of what was measured. Exit codes as everywhere."""

from __future__ import annotations

from typing import Any

from leitung_core.cautions import QUALIFIED
from leitung_core.starting.open_form import starting as answer

from leitung_cli.files import FileArgument, JsonOption, load
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
