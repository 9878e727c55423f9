"""How content is kept: one way for reports, pictures, evidence and whatever else comes as bytes.

A file's name is the hash of its bytes. It is written beside its place, flushed to the disk and only then named: a name
never stands for less than was sent, whenever the server is killed or the disk is full. A file that is there already is
believed when its size and hash are what its name says, else it is written anew.
"""

from __future__ import annotations

import errno
import hashlib
import os
import tempfile
from collections.abc import Iterator
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from django.core.files.base import ContentFile, File
from django.core.files.storage import FileSystemStorage, default_storage

from uvrix.language import gettext
from uvrix.shop.config.problems import Problem

BLOCK = 1 << 20
FULL = frozenset({errno.ENOSPC, errno.EDQUOT, errno.EFBIG})


class WholeFiles(FileSystemStorage):
    """Django's folder of files, in which a name stands for the whole file or for nothing."""

    def get_available_name(self, name: str, max_length: int | None = None) -> str:
        """The name itself: what has a name by its content is written over by the same content."""
        return name

    def _save(self, name: str, content: File[Any]) -> str:
        """Beside its place, flushed, renamed; nothing is left where it fails."""
        target = Path(self.path(name))
        target.parent.mkdir(parents=True, exist_ok=True)
        handle, half = tempfile.mkstemp(prefix=".half-", dir=target.parent)
        try:
            with os.fdopen(handle, "wb") as written:
                for block in content.chunks(BLOCK):
                    written.write(block.encode() if isinstance(block, str) else block)
                written.flush()
                os.fsync(written.fileno())
            Path(half).replace(target)
        except BaseException:
            with suppress(OSError):
                Path(half).unlink()
            raise
        _flush_folder(target.parent)
        return name


def _flush_folder(folder: Path) -> None:
    """The name itself is on the disk."""
    handle = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)


@dataclass(frozen=True, slots=True)
class Kept:
    """Content that is kept: its SHA-256, its size in bytes, the name under which the storage has it."""

    sha256: str
    size: int
    stored_as: str


def keep(folder: str, content: bytes | File[Any], known: tuple[str, int] | None = None) -> Kept:
    """Keep content once, by its hash. Raises Problem 507 where there is no space: then nothing is kept.

    `known` are its hash and size where the caller has them already.
    """
    file = ContentFile(content) if isinstance(content, bytes) else content
    digest, size = known or digest_of(file)
    stored_as = f"{folder}/{digest[:2]}/{digest}"
    if not is_whole(stored_as, digest, size):
        file.seek(0)
        save(stored_as, file)
    return Kept(digest, size, stored_as)


def save(name: str, file: File[Any]) -> None:
    """Store a file under a name, in place of what may be there. Raises Problem 507 where there is no space."""
    try:
        default_storage.save(name, file)
    except OSError as error:
        if error.errno not in FULL:
            raise
        detail = gettext("The server's disk is full. Nothing of this file was kept: make room, then send it again.")
        raise Problem(507, "no-space", detail) from None


def is_whole(stored_as: str, digest: str, size: int | None = None) -> bool:
    """Whether what is stored has the size and the hash that it should have."""
    try:
        if size is not None and default_storage.size(stored_as) != size:
            return False
        with default_storage.open(stored_as) as stored:
            return digest_of(stored)[0] == digest
    except FileNotFoundError:
        return False


def digest_of(file: File[Any]) -> tuple[str, int]:
    """The SHA-256 and the size in bytes of a file, read from its beginning."""
    digest, size = hashlib.sha256(), 0
    for block in _blocks(file):
        digest.update(block)
        size += len(block)
    return digest.hexdigest(), size


def _blocks(file: File[Any]) -> Iterator[bytes]:
    file.seek(0)
    while block := file.read(BLOCK):
        yield block
