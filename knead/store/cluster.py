"""A PostgreSQL cluster of Knead's own, on loopback, run by an ordinary user even when started as root."""

import getpass
import hashlib
import os
import pwd
import shutil
import socket
import subprocess
from dataclasses import dataclass
from pathlib import Path

import psycopg

FIRST_PORT, LAST_PORT = 54320, 54399


class ClusterError(RuntimeError):
    """The cluster can't be run; the message is a sentence that says what to do."""


@dataclass(frozen=True)
class Cluster:
    """A cluster in a folder of its own. PostgreSQL refuses root, so root runs it as `postgres` or `nobody`."""

    home: Path

    @property
    def data(self) -> Path:
        """PostgreSQL's data folder."""
        return self.home / "data"

    def start(self) -> str:
        """Make the cluster if need be and start it; returns its SQLAlchemy address, without a database."""
        self._make()
        port = self._running_port()
        if port is None:
            port = _free_port()
            log = self.home / "postgres.log"
            options = f"-c listen_addresses=127.0.0.1 -p {port} -c unix_socket_directories="
            self._run("pg_ctl", "-D", self.data, "-w", "-t", "60", "-l", log, "-o", options, "start")
        return f"postgresql+psycopg://knead@127.0.0.1:{port}"

    def stop_if_idle(self) -> None:
        """Stop the server if it runs and nobody else works with it."""
        port = self._running_port()
        if port is None:
            return
        others = (
            "SELECT count(*) FROM pg_stat_activity WHERE backend_type = 'client backend' AND pid <> pg_backend_pid()"
        )
        with psycopg.connect(host="127.0.0.1", port=port, user="knead", dbname="postgres") as connection:
            row = connection.execute(others).fetchone()
        if row == (0,):
            self._run("pg_ctl", "-D", self.data, "-w", "-m", "fast", "stop")

    def _make(self) -> None:
        if (self.data / "PG_VERSION").exists():
            self._check_version()
            return
        if self.data.exists() and any(self.data.iterdir()):
            raise ClusterError(f"{self.data} is not a PostgreSQL cluster. Move it away, then start again.")
        self.home.mkdir(parents=True, exist_ok=True)
        if os.geteuid() == 0:
            shutil.chown(self.home, _other_user())
        self._run("initdb", "-D", self.data, "-U", "knead", "-A", "trust", "-E", "UTF8", "--locale=C.UTF-8")

    def _check_version(self) -> None:
        made = (self.data / "PG_VERSION").read_text().strip()
        if _binaries(made) is None:
            raise ClusterError(
                f"{self.data} was made by PostgreSQL {made}, which is not installed. "
                f"Install postgresql-{made}, or move the folder away to begin with an empty database."
            )

    def _running_port(self) -> int | None:
        """The port of the running server, read from its pid file as documented by PostgreSQL."""
        try:
            lines = (self.data / "postmaster.pid").read_text().splitlines()
            pid, port = int(lines[0]), int(lines[3])
        except (OSError, ValueError, IndexError):
            return None
        if not Path(f"/proc/{pid}").exists():
            return None
        with socket.socket() as probe:
            probe.settimeout(2)
            return port if probe.connect_ex(("127.0.0.1", port)) == 0 else None

    def _run(self, tool: str, *arguments: object) -> None:
        made = (self.data / "PG_VERSION").read_text().strip() if (self.data / "PG_VERSION").exists() else None
        folder = _binaries(made)
        if folder is None:
            raise ClusterError("PostgreSQL is not installed. Install Debian's package 'postgresql', then start again.")
        command = [str(folder / tool), *map(str, arguments)]
        as_user = _other_user() if os.geteuid() == 0 else None
        done = subprocess.run(
            command, cwd="/", stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True, check=False,
            stdin=subprocess.DEVNULL, user=as_user, extra_groups=[] if as_user else None,
            env={**os.environ, "LC_ALL": "C.UTF-8"}, start_new_session=True,
        )  # fmt: skip
        if done.returncode:
            raise ClusterError(
                f"PostgreSQL's {tool} failed for {self.data}: {done.stdout.strip()[-400:]} "
                f"See {self.home / 'postgres.log'}. If the cluster is broken, move {self.home} away and start again."
            )


def cluster_in(folder: Path) -> Cluster:
    """The cluster in a folder; where root's stand-in user can't reach that folder, in one under /var/tmp."""
    folder.mkdir(parents=True, exist_ok=True)
    if os.geteuid() == 0:
        reach = subprocess.run(["test", "-x", str(folder)], user=_other_user(), extra_groups=[], check=False)
        if reach.returncode:
            mark = hashlib.sha256(str(folder.resolve()).encode()).hexdigest()[:12]
            return Cluster(Path("/var/tmp") / f"knead-{mark}")
    return Cluster(folder.resolve() / "postgres")


def _binaries(version: str | None) -> Path | None:
    """Debian's folder of PostgreSQL programs: of a version, or the newest one."""
    found = [p for p in Path("/usr/lib/postgresql").glob(f"{version or '*'}/bin") if (p / "initdb").exists()]
    return max(found, key=lambda p: float(p.parent.name), default=None)


def _other_user() -> str:
    """An ordinary user that root can run PostgreSQL as."""
    for name in ("postgres", "nobody"):
        try:
            return pwd.getpwnam(name).pw_name
        except KeyError:
            continue
    raise ClusterError(f"PostgreSQL won't run as {getpass.getuser()}, and there is no user 'postgres' to run it as.")


def _free_port() -> int:
    for port in range(FIRST_PORT, LAST_PORT + 1):
        with socket.socket() as probe:
            if probe.connect_ex(("127.0.0.1", port)) != 0:
                return port
    raise ClusterError(f"No loopback port between {FIRST_PORT} and {LAST_PORT} is free for PostgreSQL.")
