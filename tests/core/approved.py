"""Whole answers, words and figures, compared with those that somebody has read and approved.

The cases are drawn by fixed seeds from the virtual card or from a grid round the limits. A change of a rule shows in
the file's difference, line by line; after reading it, UVRIX_APPROVE=1 ./test -k approved writes the new answers.
"""

from __future__ import annotations

import json
import os
from collections.abc import Iterable, Mapping
from dataclasses import fields, is_dataclass
from fractions import Fraction
from pathlib import Path
from typing import Any

import numpy as np

# Figures are kept to so many digits: what a machine rounds otherwise is no other answer.
DIGITS = 6
# A part, site, point or node of a model goes by its name: the model says the rest of it.
OF_A_MODEL = {"uvrix.core.boards.model", "uvrix.core.startup.chain"}


def plain(answer: Any) -> Any:
    """An answer as JSON: dataclasses by their fields, a model's things by their name, sets in order."""
    if isinstance(answer, (float, Fraction, np.floating)):
        return _rounded(float(answer))
    if is_dataclass(answer):
        return _of_fields(answer)
    if isinstance(answer, Mapping):
        return {str(key if isinstance(key, (str, int)) else plain(key)): plain(value) for key, value in answer.items()}
    if isinstance(answer, (set, frozenset)):
        return sorted((plain(entry) for entry in answer), key=str)
    if isinstance(answer, Iterable) and not isinstance(answer, str):
        return [plain(entry) for entry in answer]
    return answer.item() if isinstance(answer, np.generic) else answer


def _of_fields(answer: Any) -> Any:
    if type(answer).__module__ in OF_A_MODEL:
        for name in ("designator", "id"):
            if hasattr(answer, name):
                return getattr(answer, name)
    return {field.name: plain(getattr(answer, field.name)) for field in fields(answer)}


def _rounded(figure: float) -> float | str:
    return float(f"{figure:.{DIGITS}g}") if np.isfinite(figure) else str(figure)


def approve(test_file: str, name: str, answers: Mapping[str, Any]) -> None:
    """Compare answers by case with the approved ones beside the test; with UVRIX_APPROVE=1 write them instead."""
    path = Path(test_file).parent / "approved" / f"{name}.txt"
    said = [f"{case}: {json.dumps(plain(answer), ensure_ascii=False)}" for case, answer in answers.items()]
    if os.environ.get("UVRIX_APPROVE"):
        path.parent.mkdir(exist_ok=True)
        path.write_text("\n".join(said) + "\n", "utf-8")
        return
    kept = path.read_text("utf-8").splitlines()
    for line, former in zip(said, kept, strict=False):
        assert line == former, f"{path.name}, {line.split(': ')[0]}"
    assert len(said) == len(kept)
