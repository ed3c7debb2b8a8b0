"""What Leitung is put together from, and under which licences: docs/licences.md; with --check whether that still holds.

Checked: the list says what is installed, each licence is one that may be used beside a program which is not published,
and no pinned version was taken back by who made it. A feed of known faults is not served by the registries.
"""

from __future__ import annotations

import importlib.metadata
import json
import re
import subprocess
import sys
from pathlib import Path
from typing import Any, NamedTuple

ROOT = Path(__file__).resolve().parent.parent
PAGE = ROOT / "docs" / "licences.md"
PINNED, LOCKED = ROOT / "requirements" / "base.txt", ROOT / "web" / "package-lock.json"
MAY = re.compile(
    r"0?BSD|BSD-[23]-Clause|BSD License|3-Clause BSD License|MIT(-0|-CMU| License)?|Apache(-|\W2\.0| Soft).*"
    r"|ISC( License.*)?|PSF-2\.0|Python.*|MPL-2\.0|Mozilla Public License.*|OFL-1\.1|CC0-1\.0|Zlib|Public Domain"
    # Used as libraries, unchanged, as these ask.
    r"|LGPL-3\.0-only|GNU Lesser General Public License.*"
)
HEAD = """# Licences

What runs with Leitung, and under which licence each part is given. Written by `./leitung generate`.
CI refuses one that may not be used beside it, and a version that was taken back.

| part | version | licence |
|---|---|---|
"""


class Part(NamedTuple):
    """A package that ships: `licences` of which any one may be chosen."""

    name: str
    version: str
    licences: list[str]

    @property
    def may(self) -> bool:
        """Whether one of its licences, with all that it joins, may be used."""
        return any(
            all(MAY.fullmatch(one.strip("() ")) for one in re.split(r"\bAND\b", choice))
            for licence in self.licences for choice in re.split(r"\bOR\b", licence)
        )  # fmt: skip


def of_python() -> list[Part]:
    names = [line.partition("==")[0] for line in PINNED.read_text().splitlines() if re.match(r"[a-zA-Z]", line)]
    found = []
    for name in names:
        told = importlib.metadata.metadata(re.sub(r"\[.*", "", name))
        said = told.get("License-Expression")
        classified = [one.rpartition(" :: ")[2] for one in told.get_all("Classifier") or [] if one.startswith("Lic")]
        free = (told.get("License") or "").splitlines()[:1]
        found.append(Part(told["Name"], told["Version"], [said] if said else classified or free))
    return found


def of_the_web() -> list[Part]:
    packages: dict[str, Any] = json.loads(LOCKED.read_text())["packages"]
    return [Part(path.rpartition("node_modules/")[2], one["version"], [one.get("license", "")])
            for path, one in packages.items() if path and not one.get("dev")]  # fmt: skip


def taken_back() -> list[str]:
    """Pinned versions that are no longer offered to anybody who does not ask for exactly them."""
    command = [sys.executable, "-m", "pip", "install", "--quiet", "--dry-run", "--ignore-installed", "--no-deps",
               "--require-hashes", "--report", "-", "-r", str(PINNED)]  # fmt: skip
    done = subprocess.run(command, capture_output=True, text=True, check=False)
    if done.returncode:
        print(f"Not asked whether a version was taken back: {done.stderr.strip()[-300:]}")
        return []
    return [one["metadata"]["name"] for one in json.loads(done.stdout)["install"] if one.get("is_yanked")]


def page(parts: list[Part]) -> str:
    return HEAD + "".join(f"| {one.name} | {one.version} | {' or '.join(one.licences)} |\n" for one in parts)


def main() -> None:
    parts = sorted(of_python() + of_the_web(), key=lambda part: part.name.lower())
    if "--check" not in sys.argv:
        PAGE.write_text(page(parts))
        return
    wrong = [f"{part.name}: {part.licences or 'no licence said'}" for part in parts if not part.may]
    wrong += [f"{name}: its version was taken back" for name in taken_back()]
    if PAGE.read_text() != page(parts):
        wrong.append("docs/licences.md is not what is installed: run ./leitung generate")
    print("\n".join(wrong) or f"{len(parts)} parts, each under a licence that may be used; no version was taken back.")
    raise SystemExit(1 if wrong else 0)


if __name__ == "__main__":
    main()
