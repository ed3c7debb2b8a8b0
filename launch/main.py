"""The commands of `./leitung`."""

from __future__ import annotations

import fcntl
import sys
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager, redirect_stdout
from pathlib import Path

from launch import backup, checks, server
from launch.common import PYTHON, ROOT, STATE, Stopped, become, environment, run
from launch.packages import python_environment
from launch.postgres import start_project_cluster

USAGE = """Leitung: plan, check and record the electrical package of HVAC installs.

  ./leitung start [--port N]         set up what is missing, serve on loopback with demo data
  ./leitung stop                     end what start started
  ./leitung backup FILE              write everything to one file, while it runs, and check it
  ./leitung restore FILE             put a backup in the place of what is there, which is kept beside
  ./leitung company [take-out N FILE | delete N --sure]
                                     the companies; one's data written to a file whole, or deleted whole
  ./leitung bring-in FILE USERNAME   bring an install in from its file, for a crew lead
  ./leitung test [PYTEST ARGUMENTS]  every check; with arguments only pytest with them
  ./leitung check PLAN [--json]      check a plan file; exit 1 on a stop
  ./leitung size FILE|- [--json]     size one circuit; exit 1 on a stop
  ./leitung read FIELD TEXT|- [--units us|metric] [--json]
                                     read a quantity as people write it; exit 1 where something is asked back
  ./leitung unit TEXT|- [--json]     read a unit in one sentence
  ./leitung plate IMAGE [--json]     read a unit's plate from a photo: PNG, JPEG or HEIC
  ./leitung schedule FILE [--json]   read an engineer's equipment schedule, CSV or XLSX
  ./leitung starting FILE|- [--json] judge a trial on paper: who starts, what trips and when; exit 1 where it fails
  ./leitung log FILE|- [--rating A] [--plan PLAN --circuit ID] [--json]
                                     find the starts, steps, stops and trips in a logged current, CSV;
                                     --before FILE: what a soft starter took off each start
  ./leitung lockout PLAN --touch DEVICE[.STRIP] [--json]
                                     what to open so that what a hand touches is dead; exit 1 where it is not proved
  ./leitung start-up PLAN [--mistakes] [--json]
                                     every step, reading and test of a start-up; where each single mistake shows
  ./leitung loadout PLAN [--json]    count what an install takes along, each thing once
  ./leitung worklist PLAN [--json]   say who does what at an install, in which order, how long
  ./leitung week FILE [--json]       plan a crew's week, or say what cannot all be had; exit 1 then
  ./leitung device FILE|-            check a device file written for the catalogue
  ./leitung simulate PLAN --calls cool,fan [--causes smoke] [--off DEVICE] [--at SECONDS] [--probe A:B …] [--json]
                                     solve a plan's control network; exit 1 on a stop
  ./leitung mistakes PLAN [--json]   every single wiring mistake, what it does, the tests that expose them
  ./leitung network PLAN             write a plan's network in the open form
  ./leitung solve FILE|- [--json]    solve a bare network for its states
  ./leitung netlist FILE [--state NAME] [--after-fuse]
                                     write a solved state as a SPICE netlist
  ./leitung verify FILE [--digest HEX]
                                     whether a printed record still says what was signed
  ./leitung mutants [PACKAGE] [--sample N] [--seed S]
                                     count which changes of factors, bounds and comparisons the tests catch
  ./leitung benchmark                print the measured figures
  ./leitung fuzz [MINUTES] [READER]  every reader against what is almost right; what breaks one is kept in var/fuzz
  ./leitung load [MINUTES]           fifty people at one install at once: how long reads and edits take
  ./leitung ordeal [WRITES] [KILLS]  write while everything is killed, and through a restore; count what is there
  ./leitung screenshots              make docs/screenshots again
  ./leitung generate                 write the generated files again: API schema and types, docs/findings.md
"""


@contextmanager
def _alone() -> Iterator[None]:
    """One set-up at a time: two would install over each other."""
    STATE.mkdir(parents=True, exist_ok=True)
    with (STATE / "lock").open("w") as lock:
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            raise Stopped("Another ./leitung command is setting up here. Wait for it to end, then try again.") from None
        yield


def _start(arguments: Sequence[str]) -> int:
    port = server.DEFAULT_PORT
    if arguments:
        if len(arguments) != 2 or arguments[0] != "--port" or not arguments[1].isdigit():
            raise Stopped("Use: ./leitung start [--port N]")
        port = int(arguments[1])
        if not 1024 <= port <= 65535:
            raise Stopped(f"{port} cannot be used: choose a port from 1024 to 65535.")
    with _alone():
        server.start(port)
    return 0


def _stop(arguments: Sequence[str]) -> int:
    server.stop()
    return 0


def _with_file(command: Callable[[Path], str], name: str) -> Callable[[Sequence[str]], int]:
    def call(arguments: Sequence[str]) -> int:
        if len(arguments) != 1 or arguments[0].startswith("-"):
            raise Stopped(f"Use: ./leitung {name} FILE")
        with _alone():
            print(command(Path(arguments[0]).absolute()))
        return 0

    return call


def _bring_in(arguments: Sequence[str]) -> int:
    if len(arguments) != 2 or arguments[0].startswith("-"):
        raise Stopped("Use: ./leitung bring-in FILE USERNAME")
    with _alone():
        print(backup.beside("bring_in", Path(arguments[0]).absolute(), arguments[1]))
    return 0


def _company(arguments: Sequence[str]) -> int:
    match list(arguments):
        case []:
            command: list[str | Path] = ["list"]
        case ["take-out", number, file] if number.isdigit():
            command = ["take-out", number, "--file", Path(file).absolute()]
        case ["delete", number, *sure] if number.isdigit() and sure in ([], ["--sure"]):
            command = ["delete", number, *sure]
        case _:
            raise Stopped("Use: ./leitung company [take-out N FILE | delete N --sure]")
    with _alone():
        print(backup.beside("company", *command))
    return 0


def _test(arguments: Sequence[str]) -> int:
    with _alone():
        return checks.test(arguments)


def _core(command: str) -> Callable[[Sequence[str]], int]:
    def call(arguments: Sequence[str]) -> int:
        # Standard output belongs to the result.
        with redirect_stdout(sys.stderr), _alone_if_needed():
            python_environment("base")
        become([PYTHON, "-m", "leitung_cli.main", command, *arguments])

    return call


@contextmanager
def _alone_if_needed() -> Iterator[None]:
    """Reading commands wait for nobody once the environment stands."""
    if PYTHON.exists():
        yield
        return
    with _alone():
        yield


def _script(path: str) -> Callable[[Sequence[str]], int]:
    def call(arguments: Sequence[str]) -> int:
        with _alone():
            checks.set_up()
        become([PYTHON, ROOT / path, *arguments])

    return call


def _generate(arguments: Sequence[str]) -> int:
    with _alone():
        python_environment("dev")
        start_project_cluster()
        run([PYTHON, ROOT / "server" / "manage.py", "generate"], env=environment())
        run([PYTHON, ROOT / "scripts" / "licences.py"], env=environment())
        run(["npm", "run", "--silent", "api"], cwd=ROOT / "web")
    return 0


COMMANDS: dict[str, Callable[[Sequence[str]], int]] = {
    "start": _start,
    "stop": _stop,
    "backup": _with_file(backup.backup, "backup"),
    "restore": _with_file(backup.restore, "restore"),
    "company": _company,
    "bring-in": _bring_in,
    "test": _test,
    "check": _core("check"),
    "read": _core("read"),
    "unit": _core("unit"),
    "plate": _core("plate"),
    "schedule": _core("schedule"),
    "size": _core("size"),
    "device": _core("device"),
    **{
        name: _core(name)
        for name in (
            "simulate",
            "mistakes",
            "network",
            "solve",
            "netlist",
            "verify",
            "starting",
            "log",
            "lockout",
            "start-up",
            "loadout",
            "worklist",
            "week",
        )
    },
    "benchmark": _script("benchmarks/run.py"),
    "fuzz": _script("scripts/fuzz.py"),
    "load": _script("benchmarks/load.py"),
    "ordeal": _script("scripts/ordeal.py"),
    "mutants": _script("scripts/mutants.py"),
    "screenshots": _script("scripts/screenshots.py"),
    "generate": _generate,
}


def main(arguments: Sequence[str]) -> None:
    """Run one command. Exit code 3 where the machine is not ready, with the reason."""
    name = arguments[0] if arguments else "help"
    if name not in COMMANDS:
        known = name in ("help", "--help", "-h")
        print(USAGE if known else f"There is no command {name!r}.\n\n{USAGE}", file=sys.stdout if known else sys.stderr)
        raise SystemExit(0 if known else 2)
    try:
        raise SystemExit(COMMANDS[name](arguments[1:]))
    except Stopped as stopped:
        print(f"\n{stopped}", file=sys.stderr)
    except OSError as error:
        what = "The disk is full: make room" if error.errno == 28 else f"{error}: see to it"
        print(f"\n{what}, then run the same command again. What was done before is kept.", file=sys.stderr)
    except KeyboardInterrupt:
        print("\nInterrupted. The same command goes on from here.", file=sys.stderr)
    raise SystemExit(3)
