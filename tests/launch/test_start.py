"""./start's own parts: a cluster of our own, one start at a time, clear lines where something is in the way."""

from __future__ import annotations

import json
import os
import signal
import socket
import subprocess
import sys
import tempfile
import time
import urllib.error
import urllib.request
import zipfile
from contextlib import suppress
from pathlib import Path

import psycopg
import pytest

from uvrix.launch import templates
from uvrix.launch.cluster import NAME, PLAIN, CannotStart, Cluster, free_port, port_is_free
from uvrix.launch.drill import drill, must_run
from uvrix.launch.serve import FIGURES
from uvrix.launch.start import wait_until_ready
from uvrix.shop.config.roles import Role

ROOT = Path(__file__).parents[2]


@pytest.fixture
def folder(open_folder):
    return open_folder()


def start(folder, *arguments, **more):
    environment = {name: value for name, value in os.environ.items() if not name.startswith("UVRIX_")}
    command = [sys.executable, "-m", "uvrix.launch.start", *arguments]
    return subprocess.Popen(
        command,
        env={**environment, "UVRIX_DATA": str(folder)},
        cwd=ROOT,
        text=True,
        stdout=subprocess.PIPE,
        stderr=subprocess.PIPE,
        **more,
    )


def test_an_empty_shop_is_set_up_stays_empty_serves_and_stops_on_ctrl_c(folder):
    """One shop for all of it: a first set-up takes half a minute."""
    _set_up(folder)
    port = free_port()
    server = start(folder, "--empty", "--port", str(port), start_new_session=True)
    try:
        wait_until_ready(port, server)
        with urllib.request.urlopen(f"http://127.0.0.1:{port}/shelf") as page:
            assert page.status == 200
            assert b'<div id="root">' in page.read()
        second = start(folder, "--port", str(free_port()))
        _, err = second.communicate(timeout=300)
        assert second.returncode == 1
        assert err.count("\n") == 1
        assert "one at a time" in err
        _the_shop_is_a_plain_role(folder)
        _a_backup_comes_back_beside_it(folder)
        _what_is_killed_comes_back(folder, port, server)
    finally:
        server.send_signal(signal.SIGINT)
        out, _ = server.communicate(timeout=300)
    assert f"http://127.0.0.1:{port}/welcome/" in out
    assert port_is_free(port)
    assert Cluster(folder).running_port() is None


def _what_is_killed_comes_back(folder, port, started):
    assert _ready(port) == {"status": "ok", "database": "ok", "store": "ok", "disk": "ok", "worker": "ok"}
    for words in ("launch.serve", "procrastinate"):
        (before,) = _children(started.pid, words)
        os.kill(before, signal.SIGKILL)
        _until(lambda words=words, before=before: [now for now in _children(started.pid, words) if now != before])
        if words == "launch.serve":
            _until(lambda before=before: not list(Path(tempfile.gettempdir()).glob(f"{FIGURES}{before}-*")))
    os.kill(int((folder / "cluster/postmaster.pid").read_text().splitlines()[0]), signal.SIGKILL)
    assert _ready(port)["status"] == "ok"
    # one server on the port, none left over of the one that was killed
    assert len(_children(started.pid, "launch.serve")) == 1


def _children(parent, words):
    found = subprocess.run(["pgrep", "-P", str(parent), "-f", words], capture_output=True, text=True, check=False)
    return [int(line) for line in found.stdout.split()]


def _ready(port):
    """What readiness says once all is well, or last."""
    said = {}

    def well():
        with suppress(OSError):
            try:
                answer = urllib.request.urlopen(f"http://127.0.0.1:{port}/readyz", timeout=5)
            except urllib.error.HTTPError as error:
                answer = error
            with answer:
                said.update(json.load(answer))
        return said.get("status") == "ok"

    with suppress(AssertionError):
        _until(well)
    return said


def _until(true, seconds=300):
    end = time.monotonic() + seconds
    while not true():
        assert time.monotonic() < end, "it did not come back"
        time.sleep(0.2)


def _the_shop_is_a_plain_role(folder):
    """What its own programs are may do nothing beside their own database, and owns all that is in it."""
    cluster = Cluster(folder)
    port = cluster.running_port()
    assert port
    named = cluster.plain_environment(port, "uvrix")
    dsn = cluster.dsn(port, "uvrix").replace(f"user={NAME}", f"user={PLAIN}")
    with psycopg.connect(dsn.replace(cluster.password, named["UVRIX_DB_PASSWORD"])) as connection:
        role = "select rolsuper, rolcreatedb, rolcreaterole from pg_roles where rolname = current_user"
        assert connection.execute(role).fetchone() == (False, False, False)
        others = "select tablename from pg_tables where schemaname = 'public' and tableowner <> current_user"
        assert connection.execute(others).fetchall() == []
    assert {(folder / name).stat().st_mode & 0o077 for name in ("files", "mailbox", "backups", "secret-key")} == {0}


def _a_backup_comes_back_beside_it(folder):
    """While the shop runs, which is not touched; one that was damaged is said to be."""
    cluster = Cluster(folder)
    port = cluster.running_port()
    assert port
    named = {**os.environ, **cluster.plain_environment(port, "uvrix"), "UVRIX_DATA": str(folder)}
    made = folder / "backups" / "uvrix-20991231T000000Z.zip"
    done = templates.django_command(named, "backup", str(made))
    assert done.returncode == 0, done.stderr
    rows = done.stdout.split()[0]
    assert drill(folder, None).startswith(f"{rows} rows came back from {made}")
    with psycopg.connect(cluster.dsn(port, "postgres")) as connection:
        left = connection.execute("select datname from pg_database where datname like 'uvrix_drill%'").fetchall()
    assert left == []


@pytest.mark.parametrize(
    ("manifest", "damage"),
    [
        # no archive, or one that is damaged
        *(('{"counts": {"job": 3}}', damage) for damage in (slice(-200), slice(40), slice(0))),
        # an archive of something else
        *((manifest, slice(None)) for manifest in ("", "[]", "3", "{}", '{"counts": 3}', '{"counts": {"job": "x"}}')),
    ],
)
def test_a_backup_that_is_none_is_told_before_anything_is_made_for_it(tmp_path, manifest, damage):
    backup = tmp_path / "uvrix-20991231T000000Z.zip"
    with zipfile.ZipFile(backup, "w") as archive:
        archive.writestr("manifest.json" if manifest else "readme.txt", manifest)
        archive.writestr("rows.jsonl", "x" * 400)
    backup.write_bytes(backup.read_bytes()[damage])
    with pytest.raises(CannotStart, match="found no whole backup"):
        drill(tmp_path, backup)
    assert list(tmp_path.iterdir()) == [backup]


def test_a_command_that_fails_in_a_drill_is_told_by_its_last_line():
    without_key = {name: value for name, value in os.environ.items() if name != "UVRIX_SECRET_KEY"}
    with pytest.raises(CannotStart, match=r"found that `restore` failed: .*UVRIX_SECRET_KEY"):
        must_run({**without_key, "DJANGO_SETTINGS_MODULE": "uvrix.shop.config.settings"}, "restore", "nothing.zip")


def _set_up(folder):
    for number, arguments in enumerate([("--prepare", "--empty"), ("--prepare",)]):
        done = start(folder, *arguments)
        out, err = done.communicate(timeout=300)
        assert done.returncode == 0, err
        assert [line for line in err.splitlines() if "keeps root's power" not in line] == []
        assert "The first lead signs up once at" in out, "what began empty stays empty"
        assert "Demo sign-in" not in out
        assert number or str(folder) in out
        assert Cluster(folder).running_port() is None, "nothing is left running"


def test_a_first_start_fills_the_demo_shop_and_prints_its_sign_ins(template_folder):
    """As it was done for the template that other tests are cloned from."""
    templates.ensure(template_folder, templates.DEMO)
    said = (template_folder / templates.FIRST_START).read_text()
    assert "Demo sign-in (technician): mirren" in said
    assert said.count("Demo sign-in") == len(Role.values)


def test_a_taken_port_is_said_in_one_line(folder):
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        port = taken.getsockname()[1]
        assert not port_is_free(port)
        refused = start(folder, "--port", str(port))
        _, err = refused.communicate(timeout=300)
    assert refused.returncode == 1
    assert err.strip() == f"./start: found port {port} taken, expected a free one (--port N)"


def test_a_folder_that_cannot_be_written_is_said_in_one_line(tmp_path):
    blocked = tmp_path / "file"
    blocked.write_text("not a folder")
    refused = start(blocked)
    _, err = refused.communicate(timeout=300)
    assert refused.returncode == 1
    assert err.count("\n") == 1
    assert "UVRIX_DATA" in err


def test_a_cluster_listens_on_loopback_with_a_password(folder):
    cluster = Cluster(folder)
    cluster.create(durable=False)
    port = cluster.start()
    try:
        assert cluster.start() == port
        cluster.ensure_database(port, "kept")
        cluster.ensure_database(port, "kept")
        with psycopg.connect(cluster.dsn(port, "kept")) as connection:
            setting = connection.execute("select setting from pg_settings where name = 'listen_addresses'").fetchone()
            assert setting == ("127.0.0.1",)
        with pytest.raises(psycopg.OperationalError):
            psycopg.connect(cluster.dsn(port, "kept").replace(cluster.password, "wrong"))
    finally:
        cluster.stop()
    assert cluster.running_port() is None
