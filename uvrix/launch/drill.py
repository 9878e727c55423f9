"""./start --drill: the newest backup brought back into a database of its own, checked, and thrown away again."""

from __future__ import annotations

import json
import os
import re
import tempfile
import time
import zipfile
from pathlib import Path

from uvrix.core.values.zips import NO_ZIP
from uvrix.launch.cluster import CannotStart, Cluster
from uvrix.launch.templates import django_command


def drill(folder: Path, backup: Path | None) -> str:
    """Bring a backup back beside the shop, which may be running and is not touched; what came of it, in one line.

    Raises CannotStart where there is no backup, or where it does not come back whole.
    """
    chosen = backup or _newest(Path(os.environ.get("UVRIX_BACKUPS") or folder / "backups"))
    # what is no archive is told at once, before a database is made for it
    written = _rows_written(chosen)
    cluster, begun = Cluster(folder), time.monotonic()
    if not cluster.exists():
        raise CannotStart(f"found no shop in {folder}, expected the data of ./start")
    was = cluster.running_port()
    port = was or cluster.start()
    name = f"uvrix_drill_{os.getpid()}"
    try:
        cluster.ensure_database(port, name)
        with tempfile.TemporaryDirectory(prefix="drill-", dir=folder) as files:
            environment = {
                **os.environ,
                **cluster.environment(port, name),
                "DJANGO_SETTINGS_MODULE": "uvrix.shop.config.settings",
                "UVRIX_DATA": files,
                "UVRIX_SECRET_KEY": "of the drill alone",
            }
            must_run(environment, "migrate", "--no-input", "-v0")
            said = must_run(environment, "restore", str(chosen))
            whole = must_run(environment, "check_store")
    finally:
        cluster.drop_database(port, name)
        if was is None:
            cluster.stop()
    rows = int(re.findall(r"\d+", said)[0])
    if rows != written:
        raise CannotStart(f"{chosen}: found {rows} rows back, expected {written}")
    took = time.monotonic() - begun
    return f"{rows} rows came back from {chosen} in {took:.0f} s; {whole.strip()} The shop itself was not touched."


def _newest(folder: Path) -> Path:
    found = sorted(folder.glob("uvrix-*.zip"))
    if not found:
        raise CannotStart(f"found no backup in {folder}, expected one (python -m django backup FILE makes one)")
    return found[-1]


def _rows_written(backup: Path) -> int:
    """How many rows a backup says that it holds; raises CannotStart where it is none."""
    try:
        with zipfile.ZipFile(backup) as archive:
            return sum(json.loads(archive.read("manifest.json"))["counts"].values())
    except (*NO_ZIP, TypeError, AttributeError) as error:  # or a manifest of another shape
        raise CannotStart(f"{backup}: found no whole backup ({error}), expected one that `backup` wrote") from None


def must_run(environment: dict[str, str], *command: str) -> str:
    """What a command of Django's printed; raises CannotStart with the last line that it said where it fails."""
    done = django_command(environment, *command)
    if done.returncode:
        last = (done.stderr.strip() or done.stdout.strip()).splitlines()[-1:]
        raise CannotStart(f"found that `{command[0]}` failed: {' '.join(last)}")
    return done.stdout
