"""A small TCP server for stand-in instruments: a command a line, an answer a line, as SCPI over a socket goes."""

from __future__ import annotations

import socketserver
import threading
import time
from typing import Protocol

# Between two samples, and how late an answer comes that comes too late.
SAMPLE_S, LATE_S = 0.02, 1.5


class Instrument(Protocol):
    """What is served."""

    def answer(self, command: str) -> str | None:
        """What it answers to a line, None to one that asks nothing."""

    def misbehaves(self) -> tuple[bool, bool]:
        """Whether the next answer comes late, and whether the line drops instead."""


class InstrumentServer(socketserver.ThreadingTCPServer):
    """One instrument for all who connect, as on a bench."""

    allow_reuse_address = True
    daemon_threads = True

    def __init__(self, port: int, instrument: Instrument) -> None:
        super().__init__(("127.0.0.1", port), _Line)
        self.instrument, self.lock = instrument, threading.Lock()

    @property
    def address(self) -> str:
        """What a VISA library opens."""
        return f"TCPIP0::127.0.0.1::{self.server_address[1]}::SOCKET"


class _Line(socketserver.StreamRequestHandler):
    """One connection: a command a line."""

    server: InstrumentServer

    def handle(self) -> None:
        for line in self.rfile:
            with self.server.lock:
                said = self.server.instrument.answer(line.decode("ascii", "replace"))
                late, drop = self.server.instrument.misbehaves() if said is not None else (False, False)
            if said is None:
                continue
            if drop:
                return
            time.sleep(LATE_S if late else SAMPLE_S)
            self.wfile.write(f"{said}\n".encode("ascii"))
