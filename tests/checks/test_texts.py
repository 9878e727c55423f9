"""Texts that the screens mark for the catalogue: a brace in them stands for a value, so none may be meant as one."""

from __future__ import annotations

import re
from pathlib import Path

import pytest

SOURCE = Path(__file__).parents[2] / "web/src"
MARKED = re.compile(r"\bt`")
QUOTED_BRACE = re.compile(r'<Trans>(?:(?!</Trans>).)*?\{"[^"]*[{}]', re.DOTALL)


def own_text(source: str, at: int) -> str:
    """The text of a template from behind its first backquote, without what stands for its values."""
    text, depth = "", 0
    while at < len(source):
        if source.startswith("${", at):
            depth, at = depth + 1, at + 2
            continue
        sign = source[at]
        if depth:
            depth += (sign == "{") - (sign == "}")
        elif sign == "`":
            break
        else:
            text += sign
        at += 1
    return text


def meant_braces(source: str) -> list[str]:
    """Texts with a brace that is no value's."""
    texts = (own_text(source, found.end()) for found in MARKED.finditer(source))
    return [text for text in texts if set("{}") & set(text)] + QUOTED_BRACE.findall(source)


def test_no_text_for_the_catalogue_holds_a_brace_of_its_own():
    found = {path.name: meant_braces(path.read_text()) for path in SOURCE.rglob("*.ts*")}
    assert {name: texts for name, texts in found.items() if texts} == {}


@pytest.mark.parametrize(
    "source",
    ["t`{job} {serial}`", "t`year \\d{2}, ${week} more`", 'x = <Trans>text; {"{link}"} stands\nfor it</Trans>'],
)
def test_one_that_does_is_found(source):
    assert meant_braces(source)


@pytest.mark.parametrize(
    "source",
    [
        "t`${plural(count, { one: `# run`, other: `# runs` })} of ${job}`",
        'a = <Trans>a {" "} b</Trans>; c = {"{link}"}',
    ],
)
def test_values_are_none(source):
    assert not meant_braces(source)
