"""Changes factors, bounds and comparisons of the trade one by one, and counts which of them the tests catch.

    mutants.py [PACKAGE] [--sample N] [--seed S]

Works on copies, one for each core. Without a package: all of them. With a sample: N of each, the same every time; with
another seed another N, which no test was written for.
"""

from __future__ import annotations

import ast
import csv
import io
import os
import random
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from functools import cache, partial
from pathlib import Path

from cosmic_ray.work_db import WorkDB, use_db
from cosmic_ray.work_item import MutationSpec, TestOutcome

ROOT = Path(__file__).resolve().parent.parent
CORE = "core/leitung_core"
FACTORS = f"{CORE}/rulebook/us/tables/factors.csv"
CIRCUITS = [f"tests/core/test_{name}.py" for name in (
    "published", "families", "findings", "ends", "raceways", "refused", "rulebook", "editions", "explained", "suit",
    "properties", "circuit_bounds", "start_up",
)]  # fmt: skip
PLANS = [f"tests/core/test_{name}.py" for name in ("panels", "panel_figures", "plan", "sizing_made_precise")] + [
    "tests/core/plant"
]


@dataclass(frozen=True)
class Package:
    """What is changed, and which tests are to notice."""

    code: tuple[str, ...]
    tests: tuple[str, ...]


PACKAGES = {
    "circuits": Package((f"{CORE}/circuits",), (*CIRCUITS, *PLANS)),
    "panels": Package((f"{CORE}/panels",), (*PLANS, "tests/core/test_findings.py")),
    "suit": Package((f"{CORE}/suit",), ("tests/core/test_suit.py", *PLANS)),
    "hazards": Package(
        (f"{CORE}/control/hazards.py",), ("tests/core/control", "tests/core/solver", "tests/core/slips")
    ),
    "judging": Package(
        (f"{CORE}/commissioning/judge.py",),
        ("tests/core/test_readings_judged.py", "tests/core/test_start_up.py", "tests/core/test_plan.py"),
    ),
    "factors": Package((FACTORS,), (*CIRCUITS, *PLANS, "tests/core/wiring", "tests/core/control")),
}
# What a network was solved for meets its bound to no digit: whether it then counts cannot be seen, and is not asked.
SOLVED = {"volts", "amps", "alternating", "direct", "secondary_amps", "ends", "asked", "off", "long"}
TIES = ("Gt_GtE", "GtE_Gt", "Lt_LtE", "LtE_Lt")
# Figures, orders of figures, and what is turned into its opposite; words put in an order are no change of a bound.
_ORDER = "(Lt|LtE|Gt|GtE)"
_OPPOSITE = "Eq_NotEq|NotEq_Eq|Is_IsNot|IsNot_Is|In_NotIn|NotIn_In"
KINDS = rf"core/(?!NumberReplacer|ReplaceComparisonOperator_({_ORDER}_{_ORDER}|{_OPPOSITE})$).*"


@dataclass(frozen=True)
class Sample:
    """How many, and drawn by which seed."""

    number: int
    seed: int = 1

    def of(self, numbers: range) -> list[int]:
        if self.number >= len(numbers):
            return list(numbers)
        return sorted(random.Random(self.seed).sample(numbers, self.number))


def pytest(folder: Path, tests: tuple[str, ...]) -> list[str]:
    return [sys.executable, "-m", "pytest", "-x", "-q", "-p", "no:django", "-p", "no:cov", *tests]


def copy(to: Path) -> Path:
    """What the tests of the core need, and nothing that a database would be asked for."""
    for part in ("core", "tests"):
        shutil.copytree(ROOT / part, to / part, ignore=shutil.ignore_patterns("__pycache__"))
    shutil.copy(ROOT / "pyproject.toml", to)
    (to / "docs").symlink_to(ROOT / "docs")
    return to


def mutants(folder: Path, package: Package, sample: Sample | None, share: int, of: int) -> Iterator[tuple[str, bool]]:
    """Each change of this copy's share, and whether it was caught."""
    if package.code == (FACTORS,):
        yield from _factors(folder, package, sample, share, of)
        return
    for number, code in enumerate(package.code):
        config, session = folder / f"{number}.toml", folder / f"{number}.sqlite"
        command = " ".join(f'"{part}"' for part in pytest(folder, package.tests))
        config.write_text(
            f"[cosmic-ray]\nmodule-path = '{code}'\ntimeout = 400\nexcluded-modules = []\n"
            f"test-command = '''{command}'''\n"
            f"[cosmic-ray.distributor]\nname = 'local'\n"
            f"[cosmic-ray.filters.operators-filter]\nexclude-operators = ['{KINDS}']\n"
        )
        tool = Path(sys.executable).with_name("cosmic-ray")
        run = lambda *arguments: subprocess.run(arguments, cwd=folder, check=True, stdout=subprocess.DEVNULL)  # noqa: E731
        run(tool, "init", config, session)
        run(tool.with_name("cr-filter-operators"), session, config)
        _choose(folder, session, sample, share, of)
        run(tool, "exec", config, session)
        with use_db(str(session), WorkDB.Mode.open) as work:
            named = {item.job_id: item.mutations[0] for item in work.work_items}
            for job, result in work.results:
                if result.test_outcome is not None:
                    what = named[job]
                    kind = what.operator_name.removeprefix("core/")
                    place = f"{what.module_path}:{what.start_pos[0]} {kind}\n{result.diff or ''}"
                    yield place, result.test_outcome != TestOutcome.SURVIVED


def _choose(folder: Path, session: Path, sample: Sample | None, share: int, of: int) -> None:
    """Leave this copy's share of the sample, of what is a factor, a bound or a comparison."""
    with use_db(str(session), WorkDB.Mode.open) as work:
        pending = {item.job_id for item in work.pending_work_items}
        left = [
            item for item in work.work_items
            if item.job_id in pending
            and item.mutations[0].start_pos not in _figures_of_form(folder / item.mutations[0].module_path)
            and not _is_a_solved_tie(folder, item.mutations[0])
        ]  # fmt: skip
        left.sort(key=lambda item: _place_of(item.mutations[0]))
        picked = _sampled(range(len(left)), sample)[share::of]
        keep = [left[index] for index in picked]
        work.clear()
        work.add_work_items(keep)


def _place_of(change: MutationSpec) -> tuple[str, tuple[int, int], str, int]:
    """The same in every copy, so that their shares never overlap; the ids of the tool are drawn at random."""
    return str(change.module_path), change.start_pos, change.operator_name, change.occurrence


def _is_a_solved_tie(folder: Path, change: MutationSpec) -> bool:
    """Whether the change is only about a solved figure that equals its bound."""
    if not change.operator_name.endswith(TIES):
        return False
    operator = change.operator_name.removeprefix("core/ReplaceComparisonOperator_").partition("_")[0]
    return (change.start_pos[0], operator) in _comparisons_of_the_solved(folder / change.module_path)


@cache
def _comparisons_of_the_solved(file: Path) -> frozenset[tuple[int, str]]:
    """On which lines such comparisons stand, with their operators: Lt, GtE."""
    found = set()
    for node in ast.walk(ast.parse(file.read_text("utf-8"))):
        if isinstance(node, ast.Compare):
            parts = [*ast.walk(node)]
            names = {part.id for part in parts if isinstance(part, ast.Name)}
            names |= {part.attr for part in parts if isinstance(part, ast.Attribute)}
            if names & SOLVED:
                lines = range(node.lineno, (node.end_lineno or node.lineno) + 1)
                found |= {(line, type(operator).__name__) for line in lines for operator in node.ops}
    return frozenset(found)


@cache
def _figures_of_form(file: Path) -> frozenset[tuple[int, int]]:
    """Where figures stand that decide nothing: digits of a rounding, what a missing value is read as, longest lists."""
    found, text = set(), file.read_text("utf-8")
    for node in ast.walk(ast.parse(text)):
        if isinstance(node, ast.Call):
            name = node.func.id if isinstance(node.func, ast.Name) else ""
            found |= {inner for arg in node.args[1:] if name in ("round", "say", "tidy") for inner in ast.walk(arg)}
            found |= {word.value for word in node.keywords if word.arg in ("max_length", "maxsize", "default")}
        elif isinstance(node, ast.BoolOp) and isinstance(node.op, ast.Or):
            found |= _missing_read_as(node.values[-1])
    lines = text.splitlines()
    return frozenset(
        (node.lineno, len(lines[node.lineno - 1].encode()[: node.col_offset].decode()))
        for node in found if isinstance(node, ast.Constant)
    )  # fmt: skip


def _missing_read_as(value: ast.expr) -> set[ast.AST]:
    """The figure that stands for one that is missing: 0, or Decimal(0)."""
    is_decimal = isinstance(value, ast.Call) and isinstance(value.func, ast.Name) and value.func.id == "Decimal"
    return {value, *(value.args if is_decimal and isinstance(value, ast.Call) else ())}


def _sampled(numbers: range, sample: Sample | None) -> list[int]:
    return list(numbers) if sample is None else sample.of(numbers)


def _factors(folder: Path, package: Package, sample: Sample | None, share: int, of: int) -> Iterator[tuple[str, bool]]:
    """Every factor a tenth larger, one at a time."""
    file = folder / FACTORS
    whole = file.read_text("utf-8")
    head = [line for line in whole.splitlines() if line.startswith("#")]
    rows = list(csv.DictReader(line for line in whole.splitlines() if not line.startswith("#")))
    for index in _sampled(range(len(rows)), sample)[share::of]:
        changed = [dict(row) for row in rows]
        top, _, bottom = changed[index]["value"].partition("/")
        changed[index]["value"] = f"{float(top) * 1.1:.6g}" + (f"/{bottom}" if bottom else "")
        out = io.StringIO()
        writer = csv.DictWriter(out, list(rows[0]), lineterminator="\n")
        writer.writeheader()
        writer.writerows(changed)
        file.write_text("\n".join(head) + "\n" + out.getvalue(), "utf-8")
        # The published figures themselves would catch each at once: what is asked is whether a worked case does.
        tests = tuple(test for test in package.tests if test != "tests/core/test_rulebook.py")
        done = subprocess.run(pytest(folder, tests), cwd=folder, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
        yield f"{FACTORS} {rows[index]['key']}", done.returncode != 0
    file.write_text(whole, "utf-8")


def _share(package: Package, sample: Sample | None, of: int, folder: Path, share: int) -> list[tuple[str, bool]]:
    return [*mutants(folder, package, sample, share, of)]


def _number(arguments: list[str], name: str) -> int | None:
    """The number after an option, both taken out; None where it is not given."""
    if name not in arguments:
        return None
    at = arguments.index(name)
    asked = arguments[at + 1 : at + 2]
    if not asked or not asked[0].isdigit():
        raise SystemExit(f"A whole number belongs after it: {name} 40.")
    del arguments[at : at + 2]
    return int(asked[0])


def main() -> None:
    arguments = sys.argv[1:]
    number, seed = _number(arguments, "--sample"), _number(arguments, "--seed")
    sample = Sample(number, 1 if seed is None else seed) if number is not None else None
    unknown = [name for name in arguments if name not in PACKAGES]
    if unknown:
        raise SystemExit(f"There is no package {unknown[0]}. Use one of: {', '.join(PACKAGES)}.")
    workers = os.cpu_count() or 1
    worst = 1.0
    for name in arguments or PACKAGES:
        package = PACKAGES[name]
        with tempfile.TemporaryDirectory() as home:
            folders = [copy(Path(home) / str(number)) for number in range(workers)]
            if subprocess.run(pytest(folders[0], package.tests), cwd=folders[0]).returncode:
                raise SystemExit(f"The tests of {name} fail without any change: what they catch would say nothing.")
            with ThreadPoolExecutor(workers) as pool:
                work = partial(_share, package, sample, workers)
                found = [entry for share in pool.map(work, folders, range(workers)) for entry in share]
        caught = sum(killed for _, killed in found)
        worst = min(worst, caught / len(found)) if found else worst
        print(f"{name}: {caught} of {len(found)} caught", flush=True)
        for place, killed in found:
            if not killed:
                print(f"  survived: {place}", flush=True)
    raise SystemExit(0 if worst >= 0.9 else 1)


if __name__ == "__main__":
    main()
