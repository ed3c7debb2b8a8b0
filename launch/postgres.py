"""A PostgreSQL of the project's own: its data directory, its port on loopback, its password."""

from __future__ import annotations

import os
import pwd
import secrets
import shutil
import socket
import subprocess
import time
from pathlib import Path

from launch.common import STATE, Stopped, check_disk, fail, process_start, read_config, run, write_config
from launch.packages import postgres_bin

FIRST_PORT = 55432
TRIES = 6
SYSTEM_USER = "postgres"
# pg_ctl gives up at once where the server dies; a busy machine or a long recovery takes its time.
PATIENCE_S = "900"


def port_is_free(port: int) -> bool:
    """Whether nobody listens on that port of the loopback."""
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", port))
        except OSError:
            return False
        return True


def free_port(first: int = FIRST_PORT) -> int:
    """The first free port from `first` on."""
    return next(port for port in range(first, first + 500) if port_is_free(port))


class PortTaken(Stopped):
    """Another program took the port between the look and the start."""


class Cluster:
    """One database cluster in one directory. PostgreSQL refuses root, so as root it runs as its own system user."""

    def __init__(self, folder: Path, port: int | None = None) -> None:
        self.folder, self.data, self.log = folder, folder / "data", folder / "server.log"
        self.port = port
        self.as_root = os.geteuid() == 0
        programs = postgres_bin()
        if programs is None:
            fail("PostgreSQL is missing. Have an administrator run: apt-get install postgresql")
        self.bin = programs

    def _command(self, *parts: str | Path) -> list[str]:
        prefix = ["runuser", "-u", SYSTEM_USER, "--"] if self.as_root else []
        return [*prefix, *(str(part) for part in parts)]

    def create(self, password: str) -> None:
        """Create the cluster; a half-made one from an interrupted set-up is begun anew."""
        partial = self.folder / "data.partial"
        shutil.rmtree(partial, ignore_errors=True)
        self.folder.mkdir(parents=True, exist_ok=True)
        secret = self.folder / "password"
        secret.write_text(password)
        secret.chmod(0o600)
        if self.as_root:
            user = pwd.getpwnam(SYSTEM_USER)
            for path in (self.folder, secret):
                os.chown(path, user.pw_uid, user.pw_gid)
        self.folder.chmod(0o700)
        try:
            options = ["--username=leitung", f"--pwfile={secret}", "--auth=scram-sha-256", "--data-checksums"]
            run(
                self._command(self.bin / "initdb", "-D", partial, "--encoding=UTF8", "--locale=C.UTF-8", *options),
                cwd="/",
            )
        finally:
            secret.unlink(missing_ok=True)
        partial.rename(self.data)

    def _pid(self) -> int | None:
        try:
            return int((self.data / "postmaster.pid").read_text().splitlines()[0])
        except (OSError, ValueError, IndexError):
            return None

    def running(self) -> bool:
        """Whether this cluster's server runs. A killed one that nobody has reaped does not."""
        pid = self._pid()
        return pid is not None and process_start(pid) is not None

    def _clear_after_a_kill(self) -> None:
        """Remove the lock file of a dead server, but only once none of its processes is left on the data."""
        if self._pid() is None or self.running():
            return
        for _ in range(100):
            if not any(_works_in(process, self.data) for process in Path("/proc").glob("[0-9]*")):
                (self.data / "postmaster.pid").unlink(missing_ok=True)
                return
            time.sleep(0.1)

    def start(self) -> None:
        """Start the server and wait until it answers; after a crash it recovers by itself.

        Raises PortTaken where another program was quicker on its port.
        """
        self._clear_after_a_kill()
        before = self.log.stat().st_size if self.log.exists() else 0
        options = f"-p {self.port} -c listen_addresses=127.0.0.1 -c unix_socket_directories='' -c max_connections=100"
        where: list[str | Path] = [self.bin / "pg_ctl", "-D", self.data, "-w", "-t", PATIENCE_S, "-l", self.log]
        start = [*where, "-o", options, "start"]
        done = subprocess.run(
            self._command(*start),
            cwd="/",
            stdin=subprocess.DEVNULL,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
        )
        if done.returncode:
            words = self.log.read_bytes()[before:].decode(errors="replace") if self.log.exists() else ""
            if "Address already in use" in words:
                raise PortTaken(f"Port {self.port} of this machine is taken.")
            tail = "\n".join(words.splitlines()[-8:])
            fail(f"PostgreSQL did not start. Your data is untouched in {self.data}. Its last words:\n{tail}")

    def stop(self, mode: str = "fast") -> None:
        """Stop the server."""
        subprocess.run(
            self._command(self.bin / "pg_ctl", "-D", self.data, "-w", "-m", mode, "stop"), cwd="/", capture_output=True
        )


def _works_in(process: Path, folder: Path) -> bool:
    try:
        return (process / "cwd").readlink() == folder
    except OSError:
        return False


def _folder() -> Path:
    """Where the data lives: the state directory, unless PostgreSQL's user could not enter it."""
    if os.geteuid() == 0:
        for parent in [STATE, *STATE.parents]:
            if parent.exists() and not parent.stat().st_mode & 0o001:
                # A name of its own each time: data of a checkout that was deleted is never taken for this one's.
                name = str(STATE).strip("/").replace("/", "-")
                return Path("/var/lib/leitung") / f"{name}-{secrets.token_hex(4)}"
    return STATE / "postgres"


def project_cluster() -> Cluster:
    """The project's cluster, created on first use. Its place and password are noted before anything is made there."""
    config = read_config()
    if "database" not in config:
        folder = _folder()
        if (folder / "data").exists():
            fail(
                f"{folder / 'data'} holds a database, but config.json with its password is gone. "
                "Restore it, or move the data away."
            )
        database = {"host": "127.0.0.1", "name": "leitung", "user": "leitung", "folder": str(folder)}
        database["password"] = secrets.token_urlsafe(24)
        database["role_password"] = secrets.token_urlsafe(24)
        config = {**config, "database": database, "secret_key": secrets.token_urlsafe(48)}
        write_config(config)
    database = config["database"]
    if "role_password" not in database:
        # A machine of before the application had a role of its own.
        database["role_password"] = secrets.token_urlsafe(24)
        write_config(config)
    cluster = Cluster(Path(database["folder"]), database.get("port"))
    if not cluster.data.exists():
        check_disk()
        cluster.create(database["password"])
    return cluster


def start_project_cluster() -> tuple[Cluster, bool]:
    """The running project cluster, and whether this call started it."""
    cluster = project_cluster()
    if cluster.running():
        return cluster, False
    config = read_config()
    port = config["database"].get("port")
    cluster.port = port if port and port_is_free(port) else free_port()
    for _ in range(TRIES - 1):
        try:
            return _started(cluster), True
        except PortTaken:
            cluster.port = free_port((cluster.port or FIRST_PORT) + 1)
    return _started(cluster), True


def _started(cluster: Cluster) -> Cluster:
    """The cluster started on its port, which is noted first."""
    config = read_config()
    config["database"]["port"] = cluster.port
    write_config(config)
    cluster.start()
    return cluster
