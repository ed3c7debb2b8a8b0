"""Set-up: what is missing is said, what was done is not done again, a half-done thing is begun anew."""

from __future__ import annotations

import json
import os
import socket
import subprocess
import sys
from pathlib import Path
from types import SimpleNamespace

import pytest

from launch import common, main, packages, postgres, server


@pytest.fixture
def state(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    """A state directory of its own."""
    for module in (common, packages, postgres, main):
        monkeypatch.setattr(module, "STATE", tmp_path)
    monkeypatch.setattr(server, "RUN_FILE", tmp_path / "run" / "server.json")
    (tmp_path / "run").mkdir()
    return tmp_path


def test_a_normal_user_is_told_which_packages_to_ask_for(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(os, "geteuid", lambda: 1000)
    needs = {"postgresql": lambda: False, "npm": lambda: True, "chromium": lambda: False}
    with pytest.raises(common.Stopped, match="apt-get install postgresql chromium"):
        packages.debian(needs)


def test_root_installs_exactly_what_is_missing(monkeypatch: pytest.MonkeyPatch) -> None:
    called: list[list[str]] = []
    monkeypatch.setattr(os, "geteuid", lambda: 0)
    monkeypatch.setattr(packages, "check_disk", lambda: None)

    def run(command: list[str], **options: object) -> SimpleNamespace:
        called.append([str(part) for part in command])
        return SimpleNamespace(stdout="v20.1.0\n")

    monkeypatch.setattr(packages, "run", run)
    packages.debian({"postgresql": lambda: False, "npm": lambda: True})
    assert called[1][-1] == "postgresql"
    assert "npm" not in called[1]


@pytest.mark.parametrize(
    ("version", "fits"), [("v18.19.0", False), ("v20.0.0", True), ("v22.1.0", True), ("nonsense", False)]
)
def test_an_old_node_is_named(monkeypatch: pytest.MonkeyPatch, version: str, fits: bool) -> None:
    monkeypatch.setattr(packages, "run", lambda command, **options: SimpleNamespace(stdout=version))
    if fits:
        packages.debian({})
    else:
        with pytest.raises(common.Stopped, match="the front end needs 20"):
            packages.debian({})


def test_a_full_disk_is_said_before_anything_is_begun(state: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(common.shutil, "disk_usage", lambda path: SimpleNamespace(free=200_000_000))
    with pytest.raises(common.Stopped, match="Only 200 MB are free"):
        common.check_disk()


def test_a_disk_that_fills_up_on_the_way_is_said(capfd: pytest.CaptureFixture[str]) -> None:
    script = "import sys; print('No space left on device', file=sys.stderr); sys.exit(1)"
    with pytest.raises(common.Stopped, match="The disk is full: make room"):
        common.run([sys.executable, "-c", script])


def test_a_failed_command_shows_its_last_words(state: Path) -> None:
    with pytest.raises(common.Stopped, match=r"(?s)ended with 3.*the reason"):
        common.run([sys.executable, "-c", "import sys; print('the reason'); sys.exit(3)"])


def test_stamps_hold_only_for_the_same_inputs(state: Path) -> None:
    assert not common.fresh("npm", "a")
    common.stamp("npm", "a")
    assert common.fresh("npm", "a")
    assert not common.fresh("npm", "b")


def test_a_digest_follows_content_names_and_folders() -> None:
    here = Path(__file__).parent
    assert common.digest([here]) == common.digest([here])
    assert common.digest([here / "test_set_up.py"]) != common.digest([here / "__init__.py"])


def test_a_file_is_written_whole_or_not_at_all(state: Path) -> None:
    common.write(state / "config.json", "{}")
    assert not list(state.glob("*.part"))
    assert (state / "config.json").stat().st_mode & 0o777 == 0o600


def test_a_broken_configuration_is_not_overwritten(state: Path) -> None:
    (state / "config.json").write_text("{broken")
    with pytest.raises(common.Stopped, match="not readable JSON"):
        common.read_config()
    assert (state / "config.json").read_text() == "{broken"


def test_data_without_its_password_is_left_alone(state: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    (state / "postgres" / "data").mkdir(parents=True)
    monkeypatch.setattr(postgres, "_folder", lambda: state / "postgres")
    with pytest.raises(common.Stopped, match=r"config\.json with its password is gone"):
        postgres.project_cluster()


def test_ports_taken_and_free() -> None:
    with socket.socket() as other:
        other.bind(("127.0.0.1", 0))
        other.listen()
        taken = other.getsockname()[1]
        assert not postgres.port_is_free(taken)
        assert postgres.free_port(taken) > taken
    assert postgres.port_is_free(taken)


def test_a_process_is_known_by_its_start_as_well(state: Path) -> None:
    mine = common.process_start(os.getpid())
    assert mine is not None
    record = {"pid": os.getpid(), "started_at": mine, "port": 1}
    server.RUN_FILE.write_text(json.dumps(record))
    assert server.running() == record
    server.RUN_FILE.write_text(json.dumps(record | {"started_at": "1"}))
    assert server.running() is None
    assert not server.RUN_FILE.exists()


def test_what_a_killed_server_leaves_is_known_and_ended_and_nothing_else(state: Path) -> None:
    script = "import subprocess, sys; print(subprocess.Popen(['sleep', '600']).pid, flush=True); input()"
    leader = subprocess.Popen([sys.executable, "-c", script], stdin=subprocess.PIPE, stdout=subprocess.PIPE,
                              start_new_session=True)  # fmt: skip
    assert leader.stdout is not None
    left = int(leader.stdout.readline())
    server.RUN_FILE.write_text(
        json.dumps({"pid": leader.pid, "started_at": common.process_start(leader.pid), "port": 1})
    )
    assert server.orphans() == []
    leader.kill()
    leader.wait()
    assert server.orphans() == [left]
    assert server.end() is False
    assert common.process_start(left) is None
    server.RUN_FILE.write_text('{"pid": 0}')
    assert server.orphans() == []


@pytest.mark.parametrize("text", ["", "{", "[]", '{"pid": 0}'])
def test_a_broken_process_file_counts_as_none(state: Path, text: str) -> None:
    server.RUN_FILE.write_text(text)
    assert server.running() is None


def test_a_killed_process_that_nobody_reaped_is_dead() -> None:
    child = subprocess.Popen([sys.executable, "-c", "input()"], stdin=subprocess.PIPE)
    assert common.process_start(child.pid) is not None
    child.kill()
    for _ in range(1000):
        if common.process_start(child.pid) is None:
            break
    assert common.process_start(child.pid) is None
    assert Path(f"/proc/{child.pid}").exists()
    child.wait()


def test_one_set_up_at_a_time(state: Path) -> None:
    with main._alone(), pytest.raises(common.Stopped, match="is setting up here"), main._alone():
        pass


def test_data_lives_elsewhere_where_its_user_could_not_enter(monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> None:
    closed = tmp_path / "closed"
    closed.mkdir(mode=0o700)
    monkeypatch.setattr(postgres, "STATE", closed / "var")
    monkeypatch.setattr(os, "geteuid", lambda: 0)
    assert str(postgres._folder()).startswith("/var/lib/leitung/")
    monkeypatch.setattr(os, "geteuid", lambda: 1000)
    assert postgres._folder() == closed / "var" / "postgres"


def test_set_up_on_the_way_to_a_result_leaves_standard_output_to_it(
    state: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    def set_up(name: str) -> None:
        with common.step(f"Python packages ({name})"):
            pass

    monkeypatch.setattr(main, "python_environment", set_up)
    monkeypatch.setattr(main, "become", lambda command: print("{}"))
    main.COMMANDS["size"](["-", "--json"])
    printed = capsys.readouterr()
    assert printed.out == "{}\n"
    assert "Python packages (base)" in printed.err


def test_a_server_is_waited_for_as_long_as_it_gets_on(state: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """It computes before it answers: far longer than its stall, and yet it is taken."""
    monkeypatch.setattr(server, "STALLED_S", 0.5)
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    script = (
        "import time, http.server\nend = time.monotonic() + 2\nwhile time.monotonic() < end: pass\n"
        "class H(http.server.BaseHTTPRequestHandler):\n"
        "    def do_GET(self): self.send_response(200); self.end_headers(); self.wfile.write(b'csrf_token')\n"
        "    def log_message(self, *a): pass\n"
        f"http.server.HTTPServer(('127.0.0.1', {port}), H).serve_forever()"
    )
    process = subprocess.Popen([sys.executable, "-c", script], start_new_session=True)
    try:
        assert server._comes_up(process, port)
    finally:
        process.kill()
        process.wait()


@pytest.mark.parametrize("script", ["import time; time.sleep(60)", "raise SystemExit(1)"])
def test_a_server_that_hangs_or_dies_is_not_waited_for(monkeypatch: pytest.MonkeyPatch, script: str) -> None:
    monkeypatch.setattr(server, "STALLED_S", 0.5)
    process = subprocess.Popen([sys.executable, "-c", script], start_new_session=True)
    try:
        assert not server._comes_up(process, 1)
    finally:
        process.kill()
        process.wait()


def test_a_port_that_is_taken_at_the_last_moment_is_left_for_the_next(
    state: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Two that set up at once look at the same free port, and one of them is quicker."""
    tried: list[int] = []

    class Racing(postgres.Cluster):
        def __init__(self) -> None:
            self.port = None

        def running(self) -> bool:
            return False

        def start(self) -> None:
            tried.append(self.port or 0)
            if len(tried) < 3:
                raise postgres.PortTaken("taken")

    monkeypatch.setattr(postgres, "project_cluster", Racing)
    common.write_config({"database": {}})
    cluster, started = postgres.start_project_cluster()
    assert (len(set(tried)), started) == (3, True)
    assert common.read_config()["database"]["port"] == cluster.port == tried[-1]
