"""Started by root, the shop's programs run as a user of their own, who may write their data and nothing else."""

from __future__ import annotations

import os
import pwd
import subprocess
import sys
from collections.abc import Sequence
from pathlib import Path

NAME = "uvrix"
# What of the data folder is theirs; the rest leads into the database as one who may do everything.
THEIRS = ("files", "mailbox", "backups", "instruments", "cache")


def plain_user(root: Path) -> str:
    """The user to run as; empty where we are not root, or where that user cannot reach the program."""
    if os.geteuid() != 0:
        return ""
    if _unknown() and subprocess.run(_ADD, check=False, capture_output=True).returncode:
        _say(f"no system user {NAME} could be made (useradd): the server keeps root's power.")
        return ""
    # a Python that cannot read its own library takes another's, where there is one
    same = f"sys.exit(sys.base_prefix != {sys.base_prefix!r})"
    reached = f"import os, sys, uvrix.launch.serve; os.listdir({str(root)!r}); {same}"
    probe = [*dropped(NAME), sys.executable, "-c", reached]
    if subprocess.run(probe, cwd=root, check=False, capture_output=True).returncode:
        where = f"the user {NAME} cannot reach {root} or its Python"
        _say(f"{where}: the server keeps root's power. Put both in a place that everybody can read.")
        return ""
    return NAME


def dropped(user: str) -> list[str]:
    """What a command begins with to run as a user, without a way back; nothing for the one who runs it."""
    if not user:
        return []
    rights = ["--clear-groups", "--no-new-privs", "--inh-caps=-all", "--bounding-set=-all"]
    # setpriv itself may still enter any folder: what it starts starts the command, and may not
    group = pwd.getpwnam(user).pw_gid
    return ["setpriv", f"--reuid={user}", f"--regid={group}", *rights, "--", "env"]


def hand_over(folder: Path, user: str) -> None:
    """Make the user's folders, and give them what is in these."""
    for name in THEIRS:
        (folder / name).mkdir(mode=0o700, exist_ok=True)
    if not user:
        return
    known = pwd.getpwnam(user)
    for name in THEIRS:
        for path in (folder / name, *(folder / name).rglob("*")):
            if path.lstat().st_uid != known.pw_uid:
                os.chown(path, known.pw_uid, known.pw_gid, follow_symlinks=False)


_ADD: Sequence[str] = ("useradd", "--system", "--user-group", "--no-create-home", "--shell", "/usr/sbin/nologin", NAME)


def _unknown() -> bool:
    try:
        pwd.getpwnam(NAME)
    except KeyError:
        return True
    return False


def _say(words: str) -> None:
    print(f"./start: {words}", file=sys.stderr)
