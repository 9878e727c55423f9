"""The application server: several processes on one port, each taking requests in whole before a thread works on them.

Who sends slowly, or half a header, costs a connection and no thread. Whoever has not signed in may send little; larger
bodies are taken only with the cookie that sign-in gives (config/passes.py).
"""

from __future__ import annotations

import argparse
import copy
import logging
import os
import shutil
import signal
import socket
import sys
import tempfile
import time
from pathlib import Path
from typing import Any

from waitress.adjustments import Adjustments
from waitress.channel import HTTPChannel
from waitress.parser import HTTPRequestParser
from waitress.server import TcpWSGIServer
from waitress.task import ThreadedTaskDispatcher

PROCESSES, THREADS = 2, 4
# A report of 1 GiB and the form around it; what a stranger may send: a photograph from a phone.
LARGEST_BODY = (1 << 30) + (16 << 20)
LARGEST_OF_STRANGERS = 32 << 20
# A connection on which nothing comes is given up after this long; this many may be open at once in a process.
SILENT_S, CONNECTIONS, MOST_OF_ONE = 60, 900, 200
# The head of a request comes within this long; both are looked at this often.
HEAD_S, LOOK_EVERY_S = 20, 5
# Answers wait on disk for those who read slowly; no thread waits for them.
WAITING_BYTES = 8 << 30
# How the folder begins in which the processes of one server keep their figures; its process id follows.
FIGURES = "uvrix-figures-"
# A process that ends at once has a cause that starting it again does not mend.
PAUSE_S = 1.0


class Parser(HTTPRequestParser):  # type: ignore[misc]
    """Takes large bodies only from those who signed in here."""

    def parse_header(self, header_plus: bytes) -> None:
        """Read the head of a request, and choose how much may follow it."""
        from uvrix.shop.config.passes import signed_in

        super().parse_header(header_plus)
        if not signed_in(self.headers.get("COOKIE", "")):
            adjusted = copy.copy(self.adj)
            adjusted.max_request_body_size = LARGEST_OF_STRANGERS
            self.adj: Any = adjusted


class Channel(HTTPChannel):  # type: ignore[misc]
    """A connection whose requests are read by our parser, and one of not too many from its address."""

    parser_class = Parser

    def __init__(self, server: Server, *opened: Any, **more: Any) -> None:
        super().__init__(server, *opened, **more)
        self.begun = time.time()
        if self.addr[0] != server.adj.trusted_proxy:
            self.will_close = (
                sum(channel.addr[0] == self.addr[0] for channel in server.active_channels.values()) > MOST_OF_ONE
            )

    def received(self, data: bytes) -> bool:
        """Take what came, and remember when a request began."""
        if self.request is None:
            self.begun = time.time()
        return bool(super().received(data))


class Server(TcpWSGIServer):  # type: ignore[misc]
    """Gives up connections on which nothing comes, and heads of requests that do not end."""

    channel_class = Channel

    def maintenance(self, now: float) -> None:
        """Close what has waited too long."""
        super().maintenance(now)
        for channel in self.active_channels.values():
            half = channel.request is not None and not channel.request.headers_finished
            if half and channel.begun < now - HEAD_S:
                channel.will_close = True


def main() -> int:
    """Serve until SIGTERM or SIGINT."""
    parser = argparse.ArgumentParser(prog="python -m uvrix.launch.serve", description=__doc__, allow_abbrev=False)
    parser.add_argument("--port", type=int, required=True)
    parser.add_argument("--address", default="127.0.0.1", help="where to listen (default: loopback)")
    parser.add_argument("--processes", type=int, default=PROCESSES)
    chosen = parser.parse_args()
    # letters in the mailbox, reports and pictures are nobody else's on this machine
    os.umask(0o077)
    _forget_figures_of_the_killed()
    named = f"{FIGURES}{os.getpid()}-"
    with socket.socket() as listening, tempfile.TemporaryDirectory(prefix=named) as figures:
        # the processes' figures, added up where they are asked for
        os.environ["PROMETHEUS_MULTIPROC_DIR"] = figures
        listening.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        listening.bind((chosen.address, chosen.port))
        return _keep(listening, chosen.processes)


def _forget_figures_of_the_killed() -> None:
    """Remove the figures of servers that could not do so themselves; the folder's name says whose it is."""
    for folder in Path(tempfile.gettempdir()).glob(f"{FIGURES}*"):
        process = folder.name.removeprefix(FIGURES).split("-")[0]
        if process.isdigit() and not Path("/proc", process).exists():
            shutil.rmtree(folder, ignore_errors=True)


def _keep(listening: socket.socket, processes: int) -> int:
    """Keep this many processes serving; one that ends is started again."""
    ours = {_forked(listening) for _ in range(processes)}
    stopping = False

    def stop(*_: Any) -> None:
        nonlocal stopping
        stopping = True
        for process in ours:
            os.kill(process, signal.SIGTERM)

    signal.signal(signal.SIGTERM, stop)
    signal.signal(signal.SIGINT, stop)
    while ours:
        try:
            ended, _ = os.wait()
        except ChildProcessError:
            break
        ours.discard(ended)
        if not stopping:
            time.sleep(PAUSE_S)
            ours.add(_forked(listening))
    return 0


def _forked(listening: socket.socket) -> int:
    """Fork a process that serves; returns its id."""
    if number := os.fork():
        return number
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    signal.signal(signal.SIGTERM, _end)
    try:
        serve(listening)
    except SystemExit:
        pass
    finally:
        sys.stderr.flush()
        os._exit(0)


def _end(*_: Any) -> None:
    raise SystemExit(0)


def serve(listening: socket.socket) -> None:
    """Serve on a bound socket in this process."""
    from uvrix.shop.config.wsgi import application

    proxy = os.environ.get("UVRIX_PROXY", "")
    told: dict[str, Any] = (
        {"trusted_proxy": proxy, "trusted_proxy_count": 1,
         "trusted_proxy_headers": {"x-forwarded-for", "x-forwarded-host", "x-forwarded-proto"}}
        if proxy
        else {}
    )  # fmt: skip
    adjustments = Adjustments(
        sockets=[listening],
        threads=THREADS,
        ident="",
        clear_untrusted_proxy_headers=True,
        connection_limit=CONNECTIONS,
        channel_timeout=SILENT_S,
        cleanup_interval=LOOK_EVERY_S,
        max_request_header_size=32 << 10,
        max_request_body_size=LARGEST_BODY,
        recv_bytes=256 << 10,
        outbuf_high_watermark=WAITING_BYTES,
        asyncore_use_poll=True,
        **told,
    )
    threads = ThreadedTaskDispatcher()
    threads.set_thread_count(THREADS)
    of = (listening.family, listening.type, listening.proto, listening.getsockname())
    logging.getLogger("waitress").setLevel(logging.ERROR)
    Server(application, {}, True, listening, dispatcher=threads, adj=adjustments, bind_socket=False, sockinfo=of).run()


if __name__ == "__main__":
    sys.exit(main())
