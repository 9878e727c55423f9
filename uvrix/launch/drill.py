"""./start --drill: the newest backup brought back into a database of its own, checked, and thrown away again."""

from __future__ import annotations

import json
import os
import re
import tempfile
import time
import zipfile
from pathlib import Path

from uvrix.launch.cluster import CannotStart, Cluster
from uvrix.launch.templates import django_command


def drill(folder: Path, backup: Path | None) -> str:
    """Bring a backup back beside the shop, which may be running and is not touched; what came of it, in one line.

    Raises CannotStart where there is no backup, or where it does not come back whole.
    """
    chosen = backup or _newest(Path(os.environ.get("UVRIX_BACKUPS") or folder / "backups"))
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
            _django(environment, "migrate", "--no-input", "-v0")
            said = _django(environment, "restore", str(chosen))
            whole = _django(environment, "check_store")
    finally:
        cluster.drop_database(port, name)
        if was is None:
            cluster.stop()
    rows = int(re.findall(r"\d+", said)[0])
    if rows != (written := _rows_written(chosen)):
        raise CannotStart(f"{chosen}: found {rows} rows back, expected {written}")
    took = time.monotonic() - begun
    return f"{rows} rows came back from {chosen} in {took:.0f} s; {whole.strip()} The shop itself was not touched."


def _newest(folder: Path) -> Path:
    found = sorted(folder.glob("uvrix-*.zip"))
    if not found:
        raise CannotStart(f"found no backup in {folder}, expected one (python -m django backup FILE makes one)")
    return found[-1]


def _rows_written(backup: Path) -> int:
    with zipfile.ZipFile(backup) as archive:
        return sum(json.loads(archive.read("manifest.json"))["counts"].values())


def _django(environment: dict[str, str], *command: str) -> str:
    done = django_command(environment, *command)
    if done.returncode:
        last = (done.stderr.strip() or done.stdout.strip()).splitlines()[-1:]
        raise CannotStart(f"found that `{command[0]}` failed: {' '.join(last)}")
    return done.stdout
