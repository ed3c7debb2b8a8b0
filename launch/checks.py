"""All tests: lint, types, architecture, core, server on PostgreSQL, browser."""

from __future__ import annotations

import subprocess
import time
from collections.abc import Sequence
from pathlib import Path

from launch.common import PYTHON, ROOT, VENV, WEB, environment
from launch.packages import TEST_NEEDS, debian, python_environment, web_build, web_packages
from launch.postgres import start_project_cluster

# Lines and branches that the tests run, printed at their end; only the modules that miss some. Not counted where a
# browser drives the application: there the counting takes longer than the tests.
BROWSER = "tests/browser"
COVERAGE = ("--cov", "--cov-report=term:skip-covered")
CODE = ("core", "server", "launch", "tests", "benchmarks", "scripts", "leitung")


def set_up() -> bool:
    """Everything the tests need; whether the database was started for them."""
    debian(TEST_NEEDS)
    python_environment("dev")
    web_packages()
    web_build()
    return start_project_cluster()[1]


def test(arguments: Sequence[str]) -> int:
    """Run every check, or with arguments only pytest with them. The exit code is 0 only if all passed."""
    started_database = set_up()
    bin_ = VENV / "bin"
    checks: list[tuple[str, Sequence[str | Path], Path]] = [
        ("lint", [bin_ / "ruff", "check", *CODE], ROOT),
        ("format", [bin_ / "ruff", "format", "--check", *CODE], ROOT),
        ("types", [bin_ / "mypy"], ROOT),
        ("architecture", [bin_ / "lint-imports"], ROOT),
        ("licences", [PYTHON, ROOT / "scripts" / "licences.py", "--check"], ROOT),
        ("web lint", ["npm", "run", "--silent", "lint"], WEB),
        ("web types", ["npm", "run", "--silent", "types"], WEB),
        ("web units", ["npm", "run", "--silent", "test"], WEB),
    ]
    pytest: Sequence[str | Path] = [PYTHON, "-m", "pytest"]
    if arguments:
        checks = [("tests", [*pytest, *arguments], ROOT)]
    else:
        checks += [
            ("tests", [*pytest, "-n", "2", f"--ignore={BROWSER}", *COVERAGE], ROOT),
            ("browser tests", [*pytest, "-n", "2", BROWSER], ROOT),
        ]
    try:
        failed = [name for name, command, folder in checks if not _pass(name, command, folder)]
    finally:
        if started_database:
            start_project_cluster()[0].stop()
    print(f"\nNot passed: {', '.join(failed)}" if failed else "\nAll passed.", flush=True)
    return 1 if failed else 0


def _pass(name: str, command: Sequence[str | Path], folder: Path) -> bool:
    started = time.monotonic()
    print(f"\n== {name}", flush=True)
    done = subprocess.run([str(part) for part in command], cwd=folder, env=environment())
    print(
        f"== {name}: {'passed' if done.returncode == 0 else 'NOT passed'} in {time.monotonic() - started:.1f} s",
        flush=True,
    )
    return done.returncode == 0
