"""What the machine must have: Debian packages, the Python environment, the web packages, the built front end."""

from __future__ import annotations

import os
import re
import shutil
import subprocess
import sys
from collections.abc import Callable
from ctypes.util import find_library
from pathlib import Path

from launch.common import PYTHON, ROOT, STATE, VENV, WEB, check_disk, digest, fail, fresh, run, stamp, step

UV = "uv==0.13.9"
LEAST_NODE = 20
REQUIREMENTS = ROOT / "requirements"


def postgres_bin() -> Path | None:
    """The newest PostgreSQL's programs, or None."""
    found = sorted(Path("/usr/lib/postgresql").glob("*/bin/initdb"), key=lambda path: int(path.parts[-3]))
    return found[-1].parent if found else None


def _program(name: str) -> Callable[[], bool]:
    return lambda: shutil.which(name) is not None


def _library(name: str) -> Callable[[], bool]:
    return lambda: find_library(name) is not None


def _venv_module() -> bool:
    return subprocess.run([sys.executable, "-c", "import venv, ensurepip"], capture_output=True).returncode == 0


RUN_NEEDS: dict[str, Callable[[], bool]] = {
    "postgresql": lambda: postgres_bin() is not None,
    "libpango-1.0-0": _library("pango-1.0"),
    "libpangoft2-1.0-0": _library("pangoft2-1.0"),
    "libharfbuzz-subset0": _library("harfbuzz-subset"),
    "python3-venv": _venv_module,
    "nodejs": _program("node"),
    "npm": _program("npm"),
    "tesseract-ocr": _program("tesseract"),
}
TEST_NEEDS = {
    **RUN_NEEDS,
    "chromium": _program("chromium"),
    "poppler-utils": _program("pdftotext"),
    "ngspice": _program("ngspice"),
}


def debian(needs: dict[str, Callable[[], bool]]) -> None:
    """Install the Debian packages that are missing; as a normal user, say which ones to ask for."""
    missing = [name for name, there in needs.items() if not there()]
    if missing and os.geteuid() != 0:
        fail(
            f"These Debian packages are missing: {' '.join(missing)}.\n"
            f"Have an administrator run: apt-get install {' '.join(missing)}\nThen run the same command again."
        )
    if missing:
        check_disk()
        with step(f"Debian packages: {' '.join(missing)}"):
            quiet = {**os.environ, "DEBIAN_FRONTEND": "noninteractive"}
            run(["apt-get", "update", "-qq"], env=quiet)
            run(["apt-get", "install", "-y", "-qq", "--no-install-recommends", *missing], env=quiet)
    _node_version()


def _node_version() -> None:
    text = run(["node", "--version"]).stdout
    found = re.match(r"v(\d+)", text)
    if not found or int(found[1]) < LEAST_NODE:
        fail(
            f"Node.js {text.strip()} is here; the front end needs {LEAST_NODE} or newer. Install it, then start again."
        )


def python_environment(name: str) -> None:
    """The project's virtual environment with the pinned packages of requirements/NAME.txt."""
    lock = REQUIREMENTS / f"{name}.txt"
    # The larger set holds the smaller one at the same versions.
    names = ("dev",) if name == "dev" else ("base", "dev")
    wanted = {n: digest([REQUIREMENTS / f"{n}.txt"]) + UV for n in names}
    usable = PYTHON.exists() and subprocess.run([PYTHON, "-c", ""], capture_output=True).returncode == 0
    if usable and any(fresh(f"python-{n}", wanted[n]) for n in names):
        return
    check_disk()
    with step(f"Python packages ({name})"):
        if sys.version_info < (3, 11):  # noqa: UP036 run by whatever Python the machine has
            fail(f"Python {sys.version.split()[0]} is here; 3.11 or newer is needed.")
        if not usable:
            shutil.rmtree(VENV, ignore_errors=True)
            STATE.mkdir(parents=True, exist_ok=True)
            run([sys.executable, "-m", "venv", VENV])
        if not (VENV / "bin" / "uv").exists():
            run([PYTHON, "-m", "pip", "install", "-q", "--disable-pip-version-check", UV])
        uv: str | Path = VENV / "bin" / "uv"
        install = [uv, "pip", "install", "-q", "--compile-bytecode", "--require-hashes"]
        run([*install, "--python", PYTHON, "-r", lock])
        stamp(f"python-{name}", wanted[name])


def web_packages() -> None:
    """The npm packages, as locked."""
    value = digest([WEB / "package.json", WEB / "package-lock.json"])
    if fresh("npm", value) and (WEB / "node_modules").is_dir():
        return
    check_disk()
    with step("Web packages"):
        run(["npm", "ci", "--silent"], cwd=WEB)
        stamp("npm", value)


def web_build() -> None:
    """The built front end and the drawings for print."""
    sources = [WEB / "src", WEB / "index.html", *WEB.glob("*.ts"), WEB / "package-lock.json"]
    value = digest(sources)
    built = (WEB / "dist" / "index.html").exists() and (WEB / "dist-print" / "print.js").exists()
    if built and fresh("web", value):
        return
    web_packages()
    with step("Front end"):
        run(["npm", "run", "--silent", "build"], cwd=WEB)
        run([PYTHON, "-m", "whitenoise.compress", "-q", WEB / "dist"])
        stamp("web", value)
