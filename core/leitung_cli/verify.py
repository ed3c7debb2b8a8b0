"""`leitung verify`: whether a printed record still says what was signed."""

from __future__ import annotations

import sys
from io import BytesIO
from typing import Annotated, Any

import typer
from leitung_core.errors import InputError, Problem
from leitung_core.plan.model import read_plan
from leitung_core.result.signed import FORMAT, digest_of
from leitung_core.validation import Entered, Text, parse_json, read
from pypdf import PdfReader
from pypdf.errors import PyPdfError

from leitung_cli.files import read_bytes

ATTACHED = "leitung-record.json"


class SignatureRead(Entered):
    """A signature as a printed record carries it."""

    name: Text
    by: Text
    revision: int
    at: Text
    digest: Text
    role: Text | None = None


class RecordRead(Entered):
    """What a printed record has attached: what was signed, and by whom."""

    content: dict[str, Any]
    signature: SignatureRead | None = None


def verify(
    file: Annotated[str, typer.Argument(help="a printed record, PDF, or what is attached to it, JSON")],
    digest: Annotated[str | None, typer.Option(help="the digest as the signer noted it")] = None,
) -> None:
    """Work out the digest of a signed record again; exit 1 where it is not the one under the signature."""
    found = read(RecordRead, parse_json(attached(file), file))
    if found.content.get("format") != FORMAT:
        raise InputError(Problem("content.format", found.content.get("format"), "this is no record", f"Use {FORMAT}."))
    plan = read_plan(found.content.get("plan", {}))
    signed, really = found.signature, digest_of(found.content)
    print(f"{plan.name}: {really}")
    if signed is None:
        print("Not signed.", file=sys.stderr)
        raise SystemExit(1)
    role = f", {signed.role}" if signed.role else ""
    print(f"signed as {signed.name}{role} by {signed.by}, revision {signed.revision}, {signed.at}")
    if really != signed.digest or (digest is not None and really != digest.lower()):
        wrong = signed.digest if really != signed.digest else digest
        print(f"It does not match {wrong}: the content is not what was signed.", file=sys.stderr)
        raise SystemExit(1)
    print("The content is what was signed." if digest else
          "The content matches its signature. Compare the digest with the one that the signer keeps.")  # fmt: skip


def attached(file: str) -> bytes:
    """The content attached to a printed record. Raises InputError where the file has none."""
    raw = read_bytes(file)
    if not raw.startswith(b"%PDF"):
        return raw
    try:
        names = PdfReader(BytesIO(raw)).attachments
        return bytes(names[ATTACHED][0])
    except (PyPdfError, KeyError, IndexError):
        problem = Problem("file", file, "no record is attached to this PDF", "Print the record again.")
        raise InputError(problem) from None
