"""A shop of its own for tests: cluster, database and server, each of which can be killed without a word."""

from __future__ import annotations

import contextlib
import json
import os
import signal
import subprocess
import sys
import urllib.request
from pathlib import Path

from uvrix.launch import templates
from uvrix.launch.cluster import Cluster, free_port, pg_bin
from uvrix.launch.start import server_command, wait_until_ready

ROOT = Path(__file__).parents[2]
PREPARED = """
import django; django.setup()
from uuid import uuid4
from uvrix.shop.accounts.models import User
from uvrix.shop.jobs.services import NewJob, open_job
from uvrix.shop.library.services import name_unknown_board
by = User.objects.create_user("wren", password="heron", role="lead")
model = name_unknown_board("Avocet 8")
print(open_job(NewJob(uuid4(), "AV8-1", model.slug, "Ansel Roe", "Dead."), by)[0].pk)
"""


def kill_all(leader: int) -> None:
    """Kill a process and all below it, the leader first, so that it starts no other."""
    below = subprocess.run(["pgrep", "-P", str(leader)], capture_output=True, text=True, check=False).stdout.split()
    os.kill(leader, signal.SIGKILL)
    for child in below:
        with contextlib.suppress(ProcessLookupError):
            os.kill(int(child), signal.SIGKILL)


class Shop:
    """A shop of its own: cluster, database, server; each can be killed without a word."""

    def __init__(self, folder: Path) -> None:
        self.cluster = Cluster(folder)
        self.cluster.create()
        self.database = self.cluster.start()
        self.cluster.ensure_database(self.database, "uvrix")
        self._migrated()
        self.port = free_port()
        self.environment = {
            **os.environ,
            **self.cluster.environment(self.database, "uvrix"),
            "DJANGO_SETTINGS_MODULE": "uvrix.shop.config.settings",
            "UVRIX_DATA": str(folder / "files"),
            "UVRIX_SECRET_KEY": "kills",
        }
        made = subprocess.run(
            [sys.executable, "-c", PREPARED], env=self.environment, cwd=ROOT, check=True, capture_output=True, text=True
        )
        self.job = int(made.stdout.split()[-1])
        self.server: subprocess.Popen[bytes] | None = None
        self.start_server()
        self.cookie = self.csrf = ""
        self.cookie, self.csrf = self.sign_in()

    def _migrated(self) -> None:
        """The schema as tests of this clone have it: to migrate anew takes half a minute."""
        named = {word: os.environ[f"UVRIX_DB_{word}"] for word in ("HOST", "PORT", "USER", "PASSWORD")}
        other = " ".join(f"{word.lower()}={value}" for word, value in named.items())
        dump = [str(pg_bin() / "pg_dump"), f"{other} dbname={templates.SCHEMA}"]
        load = [str(pg_bin() / "psql"), "-q", "-v", "ON_ERROR_STOP=1", self.cluster.dsn(self.database, "uvrix")]
        schema = subprocess.run(dump, check=True, capture_output=True)
        subprocess.run(load, input=schema.stdout, check=True, capture_output=True)

    def start_server(self) -> None:
        self.server = subprocess.Popen(server_command(self.port), env=self.environment, cwd=ROOT)
        wait_until_ready(self.port, self.server)

    def kill_server(self) -> None:
        assert self.server
        kill_all(self.server.pid)
        self.server.wait()
        self.start_server()

    def kill_database(self) -> None:
        kill_all(int((self.cluster.data / "postmaster.pid").read_text().splitlines()[0]))
        while self.cluster.running_port() is not None:
            pass
        assert self.cluster.start() == self.database

    def ask(self, path: str, body: dict[str, object] | None = None, method: str = "POST"):
        request = urllib.request.Request(
            f"http://127.0.0.1:{self.port}/api/v1/{path}",
            json.dumps(body).encode() if body is not None else None,
            {"Content-Type": "application/json", "Cookie": self.cookie, "X-CSRFToken": self.csrf},
            method=method,
        )
        return urllib.request.urlopen(request, timeout=20)  # noqa: S310

    def sign_in(self) -> tuple[str, str]:
        with self.ask("session", method="GET") as first:
            self.csrf = json.loads(first.read())["csrf"]
            self.cookie = first.headers["Set-Cookie"].split(";")[0]
        with self.ask("session", {"username": "wren", "password": "heron"}) as second:
            cookies = [entry.split(";")[0] for entry in second.headers.get_all("Set-Cookie")]
            return "; ".join({entry.split("=")[0]: entry for entry in [self.cookie, *cookies]}.values()), json.loads(
                second.read()
            )["csrf"]

    def stop(self) -> None:
        assert self.server
        self.server.terminate()
        self.server.wait()
        self.cluster.stop()
