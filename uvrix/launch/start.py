"""./start: cluster, migrations, demo shop, then the server in the foreground until Ctrl-C."""

from __future__ import annotations

import argparse
import fcntl
import os
import secrets
import signal
import socket
import subprocess
import sys
import threading
import time
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from types import FrameType
from typing import TextIO

from uvrix.launch.cluster import CannotStart, Cluster, free_port, port_is_free, secret_file
from uvrix.launch.drill import drill
from uvrix.launch.plain_user import dropped, hand_over, plain_user
from uvrix.launch.serve import PROCESSES
from uvrix.launch.supervise import Program, keep_running

ROOT = Path(__file__).resolve().parents[2]
PORT = 8417
DATABASE = "uvrix"
READY_SECONDS = 180
NEWEST = Path("the newest")


def data_folder() -> Path:
    """Where everything is kept: UVRIX_DATA, or a place outside the clone that the database user can enter."""
    if named := os.environ.get("UVRIX_DATA"):
        return Path(named).absolute()
    if os.geteuid() == 0:
        return Path("/var/lib/uvrix")
    home = os.environ.get("XDG_DATA_HOME")
    return (Path(home) if home else Path.home() / ".local" / "share") / "uvrix"


def main() -> int:
    """Run ./start; returns its exit code."""
    parser = argparse.ArgumentParser(prog="./start", description="Sets up and serves Uvrix.", allow_abbrev=False)
    parser.add_argument("--prepare", action="store_true", help="set up and end")
    parser.add_argument("--empty", action="store_true", help="leave the demo data out")
    parser.add_argument("--port", type=int, default=PORT, help=f"port to serve on (default {PORT})")
    parser.add_argument(
        "--drill",
        nargs="?",
        type=Path,
        const=NEWEST,
        metavar="BACKUP",
        help="bring the newest backup (or this one) back beside the shop, check it, throw it away",
    )
    parser.add_argument("--lan", action="store_true", help="listen on the network too, not on loopback alone")
    chosen = parser.parse_args()
    try:
        if chosen.drill:
            print(drill(data_folder(), None if chosen.drill == NEWEST else chosen.drill.absolute()))
            return 0
        return _start(chosen)
    except CannotStart as reason:
        print(f"./start: {reason}", file=sys.stderr)
        return 1


def _start(chosen: argparse.Namespace) -> int:
    if not chosen.prepare and not port_is_free(chosen.port):
        raise CannotStart(f"found port {chosen.port} taken, expected a free one (--port N)")
    with prepared(chosen.port, empty=chosen.empty, lan=chosen.lan, instruments=not chosen.prepare) as environment:
        folder = Path(environment["UVRIX_DATA"])
        if chosen.prepare:
            print(f"Uvrix is set up; its data is in {folder}.")
            return 0
        return _serve(environment, chosen, folder)


@contextmanager
def prepared(
    port: int, *, empty: bool = False, lan: bool = False, instruments: bool = True
) -> Iterator[dict[str, str]]:
    """The database, migrated and filled, and the stand-in instruments; yields the environment of a server on `port`.

    Everything ends with the context. Raises CannotStart where something is missing or in the way.
    """
    folder = data_folder()
    lock = _locked(folder)
    cluster = Cluster(folder)
    cluster.create()
    database_port = cluster.start()
    standins: list[subprocess.Popen[bytes]] = []
    try:
        cluster.ensure_database(database_port, DATABASE)
        environment = _environment(folder, cluster, database_port, lan=lan)
        if not empty:
            environment |= {
                "UVRIX_METER": f"TCPIP0::127.0.0.1::{_kept_port(folder, 'meter')}::SOCKET",
                "UVRIX_SUPPLY": f"TCPIP0::127.0.0.1::{_kept_port(folder, 'supply')}::SOCKET",
                "UVRIX_SERIAL_METER": f"serial:{_meter_line(folder)}@9600",
            }
        first = [*(["--empty"] if empty else []), *(["--network"] if lan else [])]
        user = plain_user(ROOT)
        hand_over(folder, user)
        environment["UVRIX_RUN_AS"] = user
        for command in (["migrate", "--no-input", "-v0"], ["first_start", *first]):
            subprocess.run(
                [*dropped(user), sys.executable, "-m", "django", *command],
                check=True,
                env={**environment, "UVRIX_LINK": f"http://127.0.0.1:{port}"},
                stdin=subprocess.DEVNULL,
            )
        if instruments and not empty:
            meter = ["meter", "--port", str(_kept_port(folder, "meter")), "--line", str(_meter_line(folder))]
            supply = ["supply", "--port", str(_kept_port(folder, "supply"))]
            standins += [_standin(environment, meter), _standin(environment, supply)]
        yield environment
    except subprocess.CalledProcessError as error:
        called = error.cmd[error.cmd.index("django") :][:2]
        raise CannotStart(f"found that `{' '.join(called)}` failed (see above), expected it to succeed") from None
    finally:
        for standin in standins:
            standin.terminate()
            standin.wait()
        # the lock says that nobody else uses this cluster, so one left over by a killed start ends here too
        with suppress(CannotStart):
            cluster.stop()
        lock.close()


def _kept_port(folder: Path, instrument: str) -> int:
    """A stand-in's port, the same at every start: the demo's instrument keeps its address."""
    kept = folder / f"{instrument}-port"
    if not kept.exists():
        kept.write_text(str(free_port()))
    return int(kept.read_text())


def _meter_line(folder: Path) -> Path:
    """Where the stand-in meter that prints lines is found: a way to its pseudo-terminal, made anew at every start."""
    return folder.resolve() / "instruments" / "stand-in-meter"


def _standin(environment: dict[str, str], called: list[str]) -> subprocess.Popen[bytes]:
    """A stand-in instrument, which ends with us even if we are killed."""
    command = [sys.executable, "-m", f"uvrix.standins.{called[0]}", *called[1:]]
    before = [*dropped(environment["UVRIX_RUN_AS"]), "setpriv", "--pdeathsig", "TERM", "--"]
    return subprocess.Popen([*before, *command], env=environment, cwd=ROOT, start_new_session=True)


def _locked(folder: Path) -> TextIO:
    try:
        folder.mkdir(parents=True, exist_ok=True)
        lock = (folder / "lock").open("w")
    except OSError as error:
        raise CannotStart(
            f"found {folder} not writable ({error.strerror}), expected UVRIX_DATA to name a folder"
        ) from None
    try:
        fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        raise CannotStart(f"found Uvrix running already with the data in {folder}, expected one at a time") from None
    return lock


def _environment(folder: Path, cluster: Cluster, port: int, *, lan: bool) -> dict[str, str]:
    secret = folder / "secret-key"
    if not secret.exists():
        secret_file(secret, secrets.token_urlsafe(48))
    names = os.environ.get("UVRIX_HOSTS", "").split(",")
    if lan:
        names += [socket.gethostname(), *_addresses()]
    return {
        **os.environ,
        **cluster.plain_environment(port, DATABASE),
        "DJANGO_SETTINGS_MODULE": "uvrix.shop.config.settings",
        "UVRIX_DATA": str(folder),
        "UVRIX_SECRET_KEY": secret.read_text(),
        "UVRIX_HOSTS": ",".join(filter(None, names)),
        "XDG_CACHE_HOME": str(folder / "cache"),
    }


def _addresses() -> list[str]:
    """The addresses of this machine."""
    with suppress(OSError):
        return sorted({str(found[4][0]) for found in socket.getaddrinfo(socket.gethostname(), None, socket.AF_INET)})
    return []


def server_command(port: int, *, lan: bool = False, workers: int = PROCESSES) -> list[str]:
    """How the server is run."""
    address = "0.0.0.0" if lan else "127.0.0.1"
    program = [sys.executable, "-m", "uvrix.launch.serve"]
    return [*program, f"--address={address}", f"--port={port}", f"--processes={workers}"]


def wait_until_ready(port: int, server: subprocess.Popen[bytes]) -> None:
    """Return when the server answers; raises CannotStart where it ends or takes too long."""
    end = time.monotonic() + READY_SECONDS
    while time.monotonic() < end:
        with suppress(OSError), urllib.request.urlopen(f"http://127.0.0.1:{port}/healthz", timeout=2):
            return
        if server.poll() is not None:
            raise CannotStart(f"found that the server ended with {server.returncode}, expected it to serve")
        time.sleep(0.1)
    raise CannotStart(f"found no answer on port {port} within {READY_SECONDS} s, expected the server to serve")


def worker_command() -> list[str]:
    """How the worker is run: one task at a time, finished ones are forgotten."""
    options = ["--concurrency=1", "--delete-jobs=successful"]
    return [sys.executable, "-m", "django", "procrastinate", "worker", *options]


def _serve(environment: dict[str, str], chosen: argparse.Namespace, folder: Path) -> int:
    before = dropped(environment["UVRIX_RUN_AS"])
    server = Program("the server", server_command(chosen.port, lan=chosen.lan), environment, str(ROOT), before)
    worker = Program("the worker", worker_command(), environment, str(ROOT), before)
    stopping = threading.Event()

    def stop(number: int, frame: FrameType | None) -> None:
        stopping.set()

    signal.signal(signal.SIGINT, stop)
    signal.signal(signal.SIGTERM, stop)
    try:
        wait_until_ready(chosen.port, server.start())
        worker.start()
        print(f"Uvrix serves at http://127.0.0.1:{chosen.port} with the data in {folder}. Ctrl-C stops it.", flush=True)
        keep_running([server, worker], Cluster(folder), int(environment["UVRIX_DB_PORT"]), stopping)
    finally:
        for program in (worker, server):
            program.stop()
    return 0


if __name__ == "__main__":
    sys.exit(main())
