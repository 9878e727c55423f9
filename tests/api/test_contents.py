"""Content that is kept: whole or not at all, whatever is killed or full; what is broken already is written anew."""

from __future__ import annotations

import errno
import hashlib
import os
import random
import resource
import signal
import subprocess
import sys
from pathlib import Path

import pytest
from django.core.files.base import ContentFile
from django.core.management import CommandError, call_command

from tests.api.conftest import PNG, SAMPLES
from tests.conftest import THOROUGH
from uvrix.shop.config.contents import is_whole, keep
from uvrix.shop.config.problems import Problem

ROOT = Path(__file__).parents[2]
KILLS = FULL_DISKS = 200 if THOROUGH else 5


@pytest.fixture
def folder(tmp_path, settings):
    settings.MEDIA_ROOT = tmp_path / "kept"
    return settings.MEDIA_ROOT


def files(folder):
    return sorted(path for path in folder.rglob("*") if path.is_file())


def test_the_same_content_is_kept_once_under_its_hash(folder):
    data = os.urandom(3_000_000)
    first, again = keep("reports", data), keep("reports", ContentFile(data))
    assert first == again
    assert first.sha256 == hashlib.sha256(data).hexdigest()
    assert [path.read_bytes() for path in files(folder)] == [data]


@pytest.mark.parametrize("broken", [b"", b"half", None])
def test_a_stump_under_the_right_name_is_not_trusted(folder, broken):
    data = b"all of it" * 1000
    (path,) = [folder / keep("pictures", data).stored_as]
    path.write_bytes(bytes(len(data)) if broken is None else broken)
    assert not is_whole(keep("other", b"x").stored_as + "-none", "0" * 64)
    keep("pictures", data)
    assert path.read_bytes() == data


@pytest.mark.parametrize("after", [0, 1, 2])
def test_a_full_disk_is_said_and_leaves_nothing(folder, monkeypatch, after):
    """The write, the flush to the disk or the renaming fails for want of space."""
    steps = iter(range(3))

    def full(*_):
        if next(steps) == after:
            raise OSError(errno.ENOSPC, os.strerror(errno.ENOSPC))

    flush, rename = os.fsync, Path.replace
    monkeypatch.setattr(ContentFile, "chunks", lambda file, _: [full() or file.read()])
    monkeypatch.setattr(os, "fsync", lambda handle: full() or flush(handle))
    monkeypatch.setattr(Path, "replace", lambda path, target: full() or rename(path, target))
    with pytest.raises(Problem) as refused:
        keep("evidence", b"a photograph")
    assert (refused.value.status, refused.value.code) == (507, "no-space")
    assert "Nothing of this file was kept" in refused.value.detail
    assert files(folder) == []


def test_a_disk_that_fills_up_leaves_nothing_and_with_room_the_whole_is_kept(folder):
    """The system refuses to write past a size drawn at random; then there is room, and the same is sent again."""
    dice = random.Random(20)
    before = resource.getrlimit(resource.RLIMIT_FSIZE)
    signal.signal(signal.SIGXFSZ, signal.SIG_IGN)
    try:
        for _ in range(FULL_DISKS):
            data = dice.randbytes(dice.randint(1, 3 << 20))
            resource.setrlimit(resource.RLIMIT_FSIZE, (dice.randrange(len(data)), before[1]))
            with pytest.raises(Problem) as refused:
                keep("reports", data)
            resource.setrlimit(resource.RLIMIT_FSIZE, before)
            assert refused.value.status == 507
            assert files(folder) == []
            kept = folder / keep("reports", data).stored_as
            assert kept.read_bytes() == data
            kept.unlink()
    finally:
        resource.setrlimit(resource.RLIMIT_FSIZE, before)
        signal.signal(signal.SIGXFSZ, signal.SIG_DFL)


def test_other_faults_of_the_disk_are_not_called_full(folder, monkeypatch):
    def broken(_):
        raise OSError(errno.EIO, "input/output error")

    monkeypatch.setattr(os, "fsync", broken)
    with pytest.raises(OSError, match="input/output"):
        keep("evidence", b"a photograph")
    assert files(folder) == []


KEEPING = """
import os, sys
os.environ.setdefault("DJANGO_SETTINGS_MODULE", "uvrix.shop.config.settings")
import django
django.setup()
from tests.conftest import THOROUGH
from uvrix.shop.config.contents import keep
data = bytes(range(256)) * 40_000
print("ready", flush=True)
sys.stdin.readline()
print(keep("reports", data).stored_as, flush=True)
"""


def test_killed_at_any_moment_a_name_stands_for_the_whole_file_or_for_nothing(tmp_path):
    """SIGKILL sooner or later after the write has begun; then the same is sent again."""
    data = bytes(range(256)) * 40_000
    environment = {**os.environ, "UVRIX_DATA": str(tmp_path)}
    kept = tmp_path / "files/reports"
    for number in range(KILLS):
        program = subprocess.Popen(
            [sys.executable, "-c", KEEPING], cwd=ROOT, env=environment, stdin=subprocess.PIPE, stdout=subprocess.PIPE
        )
        assert program.stdout
        assert program.stdin
        assert program.stdout.readline() == b"ready\n"
        program.stdin.write(b"\n")
        program.stdin.flush()
        try:
            program.wait(timeout=0.1 * number / KILLS)
        except subprocess.TimeoutExpired:
            program.kill()
        program.communicate()
        named = [path for path in kept.rglob("*") if path.is_file() and not path.name.startswith(".half-")]
        assert [path.read_bytes() == data for path in named] in ([], [True])
        for path in named:
            path.unlink()


def test_the_whole_store_is_checked_against_its_hashes(technician, upload, drop, settings, capsys):
    assert drop("teal-8-cold.csv").status_code == 201
    assert upload("pictures", "board.png", PNG).status_code == 201
    call_command("check_store")
    assert "2 files are whole" in capsys.readouterr().out
    damaged, missing = files(Path(settings.MEDIA_ROOT))[:2]
    damaged.write_bytes(damaged.read_bytes()[:-1])
    missing.unlink()
    with pytest.raises(CommandError, match="2 of 2 files"):
        call_command("check_store")
    said = capsys.readouterr().out
    assert damaged.name in said
    assert missing.name in said
    assert drop("teal-8-cold.csv", another="true").status_code == 201
    assert upload("pictures", "board.png", PNG).status_code == 201
    call_command("check_store")
    assert (SAMPLES / "teal-8-cold.csv").read_bytes() in [
        path.read_bytes() for path in files(Path(settings.MEDIA_ROOT))
    ]
