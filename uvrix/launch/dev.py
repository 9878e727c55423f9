"""./dev: the data of ./start, with Django and Vite reloading what is changed, on one address, until Ctrl-C."""

from __future__ import annotations

import argparse
import os
import signal
import subprocess
import sys
from contextlib import suppress
from types import FrameType

from uvrix.launch.cluster import CannotStart, free_port, port_is_free
from uvrix.launch.start import PORT, ROOT, prepared


def main() -> int:
    """Run ./dev; returns its exit code."""
    parser = argparse.ArgumentParser(
        prog="./dev", description="Serves Uvrix with reload, for working on it.", allow_abbrev=False
    )
    parser.add_argument("--port", type=int, default=PORT, help=f"port to serve on (default {PORT})")
    chosen = parser.parse_args()
    try:
        return _dev(chosen.port)
    except CannotStart as reason:
        print(f"./dev: {reason}", file=sys.stderr)
        return 1


def _dev(port: int) -> int:
    if not port_is_free(port):
        raise CannotStart(f"found port {port} taken, expected a free one (--port N)")
    api = free_port()
    with prepared(port) as settings:
        environment = {**settings, "UVRIX_API": f"http://127.0.0.1:{api}"}
        django = [sys.executable, "-m", "django", "runserver", f"127.0.0.1:{api}"]
        vite = ["npx", "--no-install", "vite", "--host", "127.0.0.1", "--port", str(port), "--strictPort"]
        servers = [
            subprocess.Popen(_with_us(command), env=environment, cwd=where, start_new_session=True)
            for command, where in ((django, ROOT), (vite, ROOT / "web"))
        ]

        def stop(number: int, frame: FrameType | None) -> None:
            for server in servers:
                with suppress(ProcessLookupError):
                    os.killpg(server.pid, signal.SIGTERM)

        signal.signal(signal.SIGINT, stop)
        signal.signal(signal.SIGTERM, stop)
        print(f"Uvrix serves with reload at http://127.0.0.1:{port}. Ctrl-C stops it.", flush=True)
        try:
            for server in servers:
                server.wait()
        finally:
            stop(0, None)
    return 0


def _with_us(command: list[str]) -> list[str]:
    """A command that ends with us even if we are killed."""
    return ["setpriv", "--pdeathsig", "TERM", "--", *command]


if __name__ == "__main__":
    sys.exit(main())
