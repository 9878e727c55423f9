"""Root's power is put down for good before the shop's programs start, where their user can reach them."""

from __future__ import annotations

import os
import shutil
import subprocess

import pytest

from uvrix.launch.plain_user import dropped, hand_over, plain_user

SAYS = "import os; print(os.getuid(), [line for line in open('/proc/self/status') if line.startswith('CapEff')])"
as_root = pytest.mark.skipif(os.geteuid() != 0, reason="only root has power to put down")


def test_who_is_not_root_stays_who_they_are():
    assert dropped("") == []


@as_root
def test_what_is_started_is_another_user_without_a_way_back():
    python = shutil.which("python3", path="/usr/bin")
    if python is None:
        pytest.skip("no Python that everybody can run")
    said = subprocess.run([*dropped("nobody"), python, "-c", SAYS], capture_output=True, text=True, check=True).stdout
    assert said.split()[0] != "0"
    assert "CapEff:\\t0000000000000000" in said
    back = subprocess.run([*dropped("nobody"), "setpriv", "--reuid=0", "true"], check=False, capture_output=True)
    assert back.returncode != 0


@as_root
def test_a_program_that_the_user_cannot_reach_is_said_and_runs_as_before(tmp_path, capsys):
    shut = tmp_path / "shut"
    shut.mkdir(mode=0o700)
    assert plain_user(shut) == ""
    assert "keeps root's power" in capsys.readouterr().err


@as_root
def test_the_users_folders_are_theirs_and_nobody_elses(tmp_path):
    (tmp_path / "files").mkdir()
    (tmp_path / "files" / "report").write_text("of an older version, written by root")
    (tmp_path / "secret-key").write_text("root's")
    hand_over(tmp_path, "nobody")
    assert (tmp_path / "files" / "report").stat().st_uid != 0
    assert (tmp_path / "secret-key").stat().st_uid == 0
    assert (tmp_path / "backups").stat().st_mode & 0o077 == 0
