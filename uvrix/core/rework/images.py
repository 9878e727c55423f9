"""Firmware images compared: failing storage shows single bits, another edition changed runs (docs/trade §6.7)."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal, cast

import numpy as np
from numpy.typing import NDArray

from uvrix.core.rework.limits import DECAY_SHARE, LEAST_TEXT_BYTES, NO_SIGN_SHARE, SETTING_BYTES, UNLIKE_SHARE
from uvrix.language import gettext

Bytes = NDArray[np.uint8]
Counts = NDArray[np.int64]
ImageKind = Literal["identical", "bit-decay", "other-edition", "unlike"]
LONGEST_TEXT = 80
MISSING_BITS = 8


@dataclass(frozen=True, slots=True)
class Run:
    """Bytes in a row that differ: where, how many, how many bits, and the texts in them."""

    offset: int
    length: int
    bits: int
    text_old: str
    text_new: str


@dataclass(frozen=True, slots=True)
class ImageDiff:
    """Two images: the larger's size, how many bytes differ, the runs, and what that looks like."""

    size: int
    differing_bytes: int
    runs: tuple[Run, ...]
    kind: ImageKind
    why: str


def compare(old: bytes, new: bytes) -> ImageDiff:
    """What differs between two images; bytes that only one has differ, by all their bits."""
    size, common = max(len(old), len(new)), min(len(old), len(new))
    one, other = (np.frombuffer(data[:common], dtype=np.uint8) for data in (old, new))
    bits = np.full(size, MISSING_BITS, dtype=np.int64)
    bits[:common] = _bits(one ^ other)
    differs = np.flatnonzero(bits)
    runs = []
    if differs.size:
        starts = np.flatnonzero(np.diff(differs, prepend=differs[0] - 2) > 1)
        ends = np.append(starts[1:], differs.size)
        for first, last in zip(starts, ends, strict=True):
            begin, end = int(differs[first]), int(differs[last - 1]) + 1
            texts = (_text(data[begin:end]) for data in (old, new))
            runs.append(Run(begin, end - begin, int(bits[begin:end].sum()), *texts))
    count = int(differs.size)
    kind, why = _kind(len(old), len(new), count, runs)
    return ImageDiff(size, count, tuple(runs), kind, why)


def explain(run: Run) -> str:
    """What a run looks like, in words."""
    if run.length == 1 and run.bits == 1:
        return gettext("a single bit: storage that fails, or a bad clip")
    shown = [text for text in (run.text_old, run.text_new) if text]
    if run.length >= LEAST_TEXT_BYTES and shown and all(text.count(".") <= len(text) * NO_SIGN_SHARE for text in shown):
        return gettext("a text was changed")
    if run.length <= SETTING_BYTES:
        return gettext("a setting or a checksum: a few bytes in one place")
    return gettext("a block was replaced")


def _bits(changed: Bytes) -> Counts:
    return cast("Counts", np.unpackbits(changed[:, None], axis=1).sum(axis=1))


def _kind(old: int, new: int, count: int, runs: list[Run]) -> tuple[ImageKind, str]:
    if old != new:
        return "unlike", gettext("The sizes differ: {old} and {new} bytes.", old=old, new=new)
    if count == 0:
        return "identical", gettext("Every byte is the same.")
    if count > UNLIKE_SHARE * old:
        return "unlike", gettext("{number} of {old} bytes differ, more than a tenth.", number=count, old=old)
    single = sum(run.length == 1 and run.bits == 1 for run in runs)
    if single == len(runs) and count <= max(1, DECAY_SHARE * old):
        return (
            "bit-decay",
            gettext(
                "{number} single bits, scattered: the storage is failing, or the clip reads badly. Read again.",
                number=count,
            ),
        )
    return "other-edition", gettext(
        "{number} of {old} bytes differ, in {number_2} runs: another edition, or settings changed.",
        number=count,
        old=old,
        number_2=len(runs),
    )


def _text(data: bytes) -> str:
    """The bytes as text, a point for what is no letter, figure or sign."""
    shown = "".join(chr(byte) if 0x20 <= byte < 0x7F else "." for byte in data[:LONGEST_TEXT])
    return shown + ("…" if len(data) > LONGEST_TEXT else "")
