"""The language is of the texts alone: in another one the same card is played by the same steps to the same end."""

from __future__ import annotations

import json
import os
import re
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest

from uvrix.language import gettext, languages, ngettext
from uvrix.launch.catalogues import accented

ROOT = Path(__file__).parents[2]
SAMPLES = ROOT / "docs/formats/samples"
ACCENT = re.compile("[\u00c0-\u024f\u1e00-\u1eff]")
CARDS = 12
PLAYED = f"""
import dataclasses, json
from uvrix.core.virtual.play import play, random_card
found = []
for seed in range(90210, 90210 + {CARDS}):
    found.append(dataclasses.asdict(play(*random_card(seed), seed)))
print(json.dumps(found))
"""


def spoken(language: str, *call: str) -> Any:
    """What Python prints as JSON in a process that speaks a language."""
    environment = {**os.environ, "UVRIX_LANGUAGE": language}
    done = subprocess.run(
        [sys.executable, *call], cwd=ROOT, env=environment, capture_output=True, text=True, check=True
    )
    return json.loads(done.stdout)


def differences(english: Any, other: Any, path: str = "$") -> list[str]:
    """Where two answers differ in more than the letters of their texts."""
    if isinstance(english, dict) and isinstance(other, dict) and list(english) == list(other):
        return [said for key in english for said in differences(english[key], other[key], f"{path}.{key}")]
    if isinstance(english, list) and isinstance(other, list) and len(english) == len(other):
        pairs = enumerate(zip(english, other, strict=True))
        return [said for at, pair in pairs for said in differences(*pair, f"{path}[{at}]")]
    if english == other or (isinstance(other, str) and ACCENT.search(other)):
        return []
    return [f"{path}: {english!r} became {other!r}"]


def test_a_card_is_played_by_the_same_steps_whatever_the_language():
    english, other = spoken("en", "-c", PLAYED), spoken("pseudo", "-c", PLAYED)
    assert differences(english, other) == []
    assert sum(bool(ACCENT.search(step["why"])) for card in other for step in card["steps"]) > CARDS


@pytest.mark.parametrize(
    "call", [["locate", "teal-8-cold.csv", "teal-8-warm.csv"], ["next", "teal-8.case.json"], ["walk"]]
)
def test_the_command_line_says_the_same_facts_in_any_language(call):
    command, *files = call
    board = ["--board", str(ROOT / "data/boards/teal-8.board.json")]
    asked = ["-m", "uvrix.cli", command, *board, *(str(SAMPLES / name) for name in files), "--json"]
    english, other = spoken("en", *asked), spoken("pseudo", *asked)
    assert differences(english, other) == []
    assert bool(ACCENT.search(json.dumps(other, ensure_ascii=False))) == (command != "walk")


def test_a_language_without_a_catalogue_is_refused_in_one_line():
    environment = {**os.environ, "UVRIX_LANGUAGE": "xx"}
    done = subprocess.run(
        [sys.executable, "-m", "uvrix.cli", "walk"],
        cwd=ROOT,
        env=environment,
        capture_output=True,
        text=True,
        check=False,
    )
    assert done.returncode == 1
    assert done.stderr.strip() == "found UVRIX_LANGUAGE=xx, expected one of en, pseudo"
    assert languages() == ["en", "pseudo"]


def test_english_is_what_the_code_says_with_its_places_filled():
    assert gettext("{point} reads {value}.", point="L1", value="2.2 Ω") == "L1 reads 2.2 Ω."
    assert gettext("{job}: a place that a letter fills") == "{job}: a place that a letter fills"
    assert ngettext("{count} error", "{count} errors", 1) == "1 error"
    assert ngettext("{who}: {count} error", "{who}: {count} errors", 0, who="A0") == "A0: 0 errors"


@pytest.mark.parametrize(
    ("english", "pseudo"),
    [("One chip", "Òñè çĥìþ"), ("{part} is off", "{part} ìš òƒƒ"), ("2.2 Ω", "2.2 Ω"), ("{a}{b} x", "{a}{b} ẋ")],
)
def test_the_pseudo_locale_accents_letters_and_leaves_places_alone(english, pseudo):
    assert accented(english) == pseudo
