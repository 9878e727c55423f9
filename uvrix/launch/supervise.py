"""Keeps the server, the worker and the database running: what ends without being asked to is started again."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import threading
import time
from collections import deque
from collections.abc import Sequence
from contextlib import suppress
from dataclasses import dataclass, field

from uvrix.launch.cluster import CannotStart, Cluster

LOOK_EVERY_S, STOP_S = 0.5, 20.0
# What ends this often within a minute has a cause that starting it again does not mend.
MOST_RESTARTS, WITHIN_S = 5, 60.0


@dataclass
class Program:
    """A program of ours in a process group of its own, which ends with us even if we are killed."""

    name: str
    command: Sequence[str]
    environment: dict[str, str]
    cwd: str
    before: Sequence[str] = ()
    process: subprocess.Popen[bytes] | None = None
    ends: deque[float] = field(default_factory=deque)

    def start(self) -> subprocess.Popen[bytes]:
        """Start it."""
        # another user first: becoming one undoes what it is told of our end
        command = [*self.before, "setpriv", "--pdeathsig", "TERM", "--", *self.command]
        self.process = subprocess.Popen(command, env=self.environment, cwd=self.cwd, start_new_session=True)
        return self.process

    def ended(self) -> bool:
        """Whether it ended."""
        return self.process is not None and self.process.poll() is not None

    def stop(self) -> None:
        """Ask it to end, then kill it with all that it started."""
        if self.process is None:
            return
        if self.process.poll() is None:
            self.process.terminate()
            with suppress(subprocess.TimeoutExpired):
                self.process.wait(STOP_S)
        self.end_group()
        self.process.wait()

    def end_group(self) -> None:
        """End what is left of its group: workers of a master that was killed would keep its port."""
        if self.process is not None:
            with suppress(ProcessLookupError):
                os.killpg(self.process.pid, signal.SIGKILL)

    def start_again(self) -> None:
        """Start what ended. Raises CannotStart where it ends again and again."""
        assert self.process is not None
        now = time.monotonic()
        self.ends.append(now)
        while self.ends[0] < now - WITHIN_S:
            self.ends.popleft()
        if len(self.ends) > MOST_RESTARTS:
            raise CannotStart(
                f"found that {self.name} ended {len(self.ends)} times within a minute (see above), expected it to run"
            )
        self.end_group()
        _say(f"{self.name} ended ({self.process.returncode}); it is started again.")
        self.start()


def keep_running(programs: Sequence[Program], cluster: Cluster, port: int, stopping: threading.Event) -> None:
    """Look after the programs and the database, on its port, until `stopping`.

    Raises CannotStart where something does not come back.
    """
    while not stopping.wait(LOOK_EVERY_S):
        if not _serves(cluster):
            _start_again(cluster, port)
        for program in programs:
            if program.ended() and not stopping.is_set():
                program.start_again()


def _serves(cluster: Cluster) -> bool:
    """Whether the database's first process is there; asking pg_ctl twice a second would cost more than it tells."""
    try:
        number = int((cluster.data / "postmaster.pid").read_text().split("\n", 1)[0])
        os.kill(number, 0)
    except (OSError, ValueError):
        return False
    return True


def _start_again(cluster: Cluster, port: int) -> None:
    _say("the database ended; it is started again.")
    end = time.monotonic() + WITHIN_S
    while True:
        try:
            found = cluster.start()
        except CannotStart:
            # what is left of the killed one may hold its memory for a moment
            if time.monotonic() > end:
                raise
            time.sleep(LOOK_EVERY_S)
            continue
        if found != port:
            raise CannotStart(f"found the database's port {port} taken, expected it free to start it again")
        return


def _say(words: str) -> None:
    print(f"Uvrix: {words}", file=sys.stderr, flush=True)
