"""Reading entered data into models, with messages that name the field, the value and the remedy."""

from __future__ import annotations

import json
from datetime import time
from typing import Annotated, Any, Literal, TypeVar

import orjson
from pydantic import AfterValidator, BaseModel, ConfigDict, Field, StringConstraints, ValidationError

from leitung_core.errors import InputError, Problem

Model = TypeVar("Model", bound=BaseModel)

# Bounds far outside any installation, so that a slip of the finger or a hostile file cannot get further.
Positive = Annotated[float, Field(strict=True, gt=0, le=1_000_000, allow_inf_nan=False)]
NotNegative = Annotated[float, Field(strict=True, ge=0, le=1_000_000, allow_inf_nan=False)]
Celsius = Annotated[float, Field(strict=True, ge=-60, le=150, allow_inf_nan=False)]
Count = Annotated[int, Field(strict=True, ge=1, le=1000)]
# Control characters have no place in a name, nor has what turns the direction of the text around it; and something of
# it must be seen: no name is made of spaces and joiners alone.
_NEVER = r"\x00-\x1f\x7f\u202a-\u202e\u2066-\u2069"
_UNSEEN = (
    r"\s\u00ad\u034f\u061c\u115f\u1160\u17b4\u17b5\u180b-\u180e\u200b-\u200f\u2060-\u2064\u3164\ufe00-\ufe0f\ufeff"
)
SEEN = rf"^[^{_NEVER}]*[^{_NEVER}{_UNSEEN}][^{_NEVER}]*$"
Text = Annotated[str, StringConstraints(min_length=1, max_length=200, strip_whitespace=True, pattern=SEEN)]
ID = r"^[A-Za-z0-9][A-Za-z0-9_-]{0,31}$"
Id = Annotated[str, StringConstraints(pattern=ID)]


def _of_the_place(at: time) -> time:
    if at.tzinfo is not None:
        raise ValueError("names a zone: give the hour of the place, as 07:30")
    return at


# An hour of a day, as clocks at the site show it.
Hour = Annotated[time, AfterValidator(_of_the_place)]


class Entered(BaseModel):
    """A model of entered data: unknown fields are refused, and absent means not known yet."""

    model_config = ConfigDict(extra="forbid", frozen=True)


def closed_schema(model: type[BaseModel]) -> dict[str, Any]:
    """The JSON Schema of a model that refuses what the reader refuses."""
    schema = model.model_json_schema()
    _close(schema)
    return schema


def _close(schema: Any) -> None:
    """Refuse unknown fields and ids that do not fit, as the reader does: a pattern alone lets other names pass."""
    if isinstance(schema, dict):
        if "patternProperties" in schema or (schema.get("type") == "object" and "properties" in schema):
            schema["additionalProperties"] = False
        for inner in schema.values():
            _close(inner)
    elif isinstance(schema, list):
        for inner in schema:
            _close(inner)


# No plan or size document nests nearly as deep.
MAX_DEPTH = 40


def parse_json(raw: bytes, name: str) -> Any:
    """The JSON in `raw`. Raises InputError where it is not strict JSON, or nests deeper than any document here."""
    try:
        data = orjson.loads(raw)
    except orjson.JSONDecodeError as error:
        where = f"line {error.lineno}, column {error.colno}"
        raise InputError(
            Problem(name, where, "is not readable JSON there", "Correct it, or export it again.")
        ) from None
    if _depth(data) > MAX_DEPTH:
        raise InputError(Problem(name, "…", f"nests deeper than {MAX_DEPTH} levels", "Name a plan or size document."))
    json.loads(raw, object_pairs_hook=_each_once)
    return data


def _each_once(pairs: list[tuple[str, Any]]) -> None:
    """Of two values under one name a reader would take the last, without a word."""
    seen: set[str] = set()
    for key, _ in pairs:
        if key in seen:
            raise InputError(Problem(key[:200], None, "stands twice in the same place", "Take one of the two out."))
        seen.add(key)


def _depth(value: Any) -> int:
    """How deep the value nests. Iterative, so that a hostile file cannot exhaust the stack."""
    deepest, queue = 0, [(value, 0)]
    while queue:
        item, level = queue.pop()
        deepest = max(deepest, level)
        children = item.values() if isinstance(item, dict) else item if isinstance(item, list) else ()
        queue.extend((child, level + 1) for child in children)
    return deepest


def read(model: type[Model], data: Any, root: str = "", *, unknown: Literal["refused", "ignored"] = "refused") -> Model:
    """`data` as `model`. Raises InputError with one Problem for each field that does not fit (at most 20).

    unknown: what becomes of fields that the model does not have.
    """
    try:
        return model.model_validate(data, extra="forbid" if unknown == "refused" else "ignore")
    except ValidationError as error:
        seen: dict[str, Problem] = {}
        for detail in error.errors(include_url=False):
            problem = problem_from(dict(detail), root)
            seen.setdefault(problem.field, problem)
        raise InputError(*list(seen.values())[:20]) from None


def problem_from(detail: dict[str, Any], root: str = "") -> Problem:
    """One error of pydantic in the words of the trade: field, value, message, remedy."""
    kind = detail["type"]
    field = ".".join(str(part) for part in (root, *detail["loc"]) if part not in ("", "[key]")) or "document"
    value = None if kind == "missing" else shorten(detail.get("input"))
    if kind not in _SENTENCES:
        # The reader's own words may quote what was typed: never filled in, only shortened.
        return Problem(_clip(field), value, _clip(detail["msg"].lower()), _CORRECT)
    # The sentences are ours, what fills them is plain text.
    context = {name: _clip(str(filling)) for name, filling in (detail.get("ctx") or {}).items()}
    message, remedy = (sentence.format_map(context) for sentence in _SENTENCES[kind])
    return Problem(_clip(field), value, message, remedy)


LONGEST_WORDS = 400


def _clip(text: str) -> str:
    """Words of at most a few lines: what was typed may be as long as the whole request."""
    return text if len(text) <= LONGEST_WORDS else text[: LONGEST_WORDS - 1] + "…"


def shorten(value: Any) -> Any:
    """A value short enough to stand in a message."""
    if isinstance(value, (int, float, bool)) or value is None:
        # A whole number of any length would otherwise travel through the message.
        return value if not isinstance(value, int) or abs(value) < 10**18 else f"{str(value)[:20]}…"
    text = value if isinstance(value, str) else type(value).__name__
    return text if len(text) <= 60 else text[:59] + "…"


_LEAVE = "Leave it out if it is not known."
_CORRECT = "Correct the value, or leave it out if not known."
_SENTENCES: dict[str, tuple[str, str]] = {
    "missing": ("this is needed", "Add it."),
    "extra_forbidden": ("no such field here", "Take it out, or correct its name."),
    "greater_than": ("must be above {gt}", "Type a figure above {gt}. " + _LEAVE),
    "greater_than_equal": ("must not be below {ge}", "Type {ge} or more. " + _LEAVE),
    "less_than_equal": ("must not be above {le}", "Type {le} or less. " + _LEAVE),
    "float_type": ("must be a number", "Type a number without its unit. " + _LEAVE),
    "float_parsing": ("must be a number", "Type a number without its unit. " + _LEAVE),
    "finite_number": ("must be a finite number", "Type an ordinary number. " + _LEAVE),
    "int_type": ("must be a whole number", "Type a whole number. " + _LEAVE),
    "int_parsing": ("must be a whole number", "Type a whole number. " + _LEAVE),
    "int_from_float": ("must be a whole number", "Type a whole number. " + _LEAVE),
    "int_parsing_size": ("is too large", "Type a smaller number. " + _LEAVE),
    "bool_type": ("must be yes or no", "Give true or false. " + _LEAVE),
    "bool_parsing": ("must be yes or no", "Give true or false. " + _LEAVE),
    "string_type": ("must be text", "Type a text. " + _LEAVE),
    "string_too_long": ("is too long", "Use at most {max_length} characters."),
    "string_too_short": ("is empty", "Type a text. " + _LEAVE),
    "string_pattern_mismatch": (
        "has characters that may not stand here",
        "Names take ordinary characters; ids take letters, digits, - and _, at most 32.",
    ),
    "literal_error": ("is none of the known values", "Use one of: {expected}. " + _LEAVE),
    "dict_type": ("must be a group of named things", "Give an object, in braces."),
    "model_type": ("must be a group of named fields", "Give an object, in braces."),
    "model_attributes_type": ("must be a group of named fields", "Give an object, in braces."),
    "list_type": ("must be a list", "Give a list, in brackets."),
    "too_long": ("has too many entries", "Use at most {max_length}."),
    "date_from_datetime_parsing": ("is not a date", "Write it as 2026-11-25. " + _LEAVE),
    "date_parsing": ("is not a date", "Write it as 2026-11-25. " + _LEAVE),
    "date_type": ("is not a date", "Write it as 2026-11-25. " + _LEAVE),
    "value_error": ("{error}", "Correct the value. " + _LEAVE),
    "union_tag_invalid": ("is none of the known kinds", "Use one of: {expected_tags}."),
    "union_tag_not_found": ("does not say of which kind it is", "Add {discriminator}."),
}
