"""A signature drawn by finger: strokes on a field of 1000 by 300, each x and y in turn."""

from __future__ import annotations

from typing import Annotated, Any

from leitung_core.errors import InputError, Problem
from pydantic import Field, TypeAdapter, ValidationError

WIDTH, HEIGHT = 1000, 300
Point = Annotated[int, Field(strict=True, ge=0, le=WIDTH)]
Stroke = Annotated[list[Point], Field(min_length=2, max_length=2000)]
Strokes = Annotated[list[Stroke], Field(max_length=60)]
_READ: TypeAdapter[list[list[int]] | None] = TypeAdapter(Strokes | None)


def read_strokes(data: Any) -> list[list[int]] | None:
    """The strokes in what a file holds. Raises InputError where they are none."""
    try:
        return _READ.validate_python(data)
    except ValidationError:
        raise InputError(Problem("signatures.drawn", None, "is no drawing of a signature", "Sign it again.")) from None


def path_of(strokes: list[list[int]] | None) -> str:
    """As the path of a drawing; a single touch is a dot."""
    drawn = []
    for stroke in strokes or ():
        points = list(zip(stroke[::2], stroke[1::2], strict=False))
        first, rest = points[0], points[1:] or [(points[0][0] + 1, points[0][1])]
        drawn.append(f"M{first[0]} {first[1]}" + "".join(f"L{x} {y}" for x, y in rest))
    return "".join(drawn)
