"""The changes: every number, comparison and logical word of a module, each changed by itself."""

from __future__ import annotations

import ast
import copy
from collections.abc import Iterator
from dataclasses import dataclass

# A float is changed by what somebody who gets a threshold wrong is off by.
OFF_BY = 1.5
COMPARED: dict[type[ast.cmpop], type[ast.cmpop]] = {
    ast.Lt: ast.LtE,
    ast.LtE: ast.Lt,
    ast.Gt: ast.GtE,
    ast.GtE: ast.Gt,
    ast.Eq: ast.NotEq,
    ast.NotEq: ast.Eq,
    ast.In: ast.NotIn,
    ast.NotIn: ast.In,
    ast.Is: ast.IsNot,
    ast.IsNot: ast.Is,
}


@dataclass(frozen=True, slots=True)
class Change:
    """One change of a module: the line it stands in, its text before and after, and the module's whole new source."""

    line: int
    before: str
    after: str
    tree: ast.Module


def changes_of(source: str) -> Iterator[Change]:
    """Every change of a module's source, in the order of its lines."""
    tree = ast.parse(source)
    for node, replace in _places(tree):
        before = ast.unparse(node)
        replace_back = copy.deepcopy(node)
        replace()
        yield Change(getattr(node, "lineno", 0), before, ast.unparse(node), copy.deepcopy(tree))
        _put_back(node, replace_back)


def _put_back(node: ast.AST, former: ast.AST) -> None:
    for field in former._fields:
        setattr(node, field, getattr(former, field))


def _places(tree: ast.Module) -> Iterator[tuple[ast.AST, _Replace]]:
    for node in _walk(tree):
        if isinstance(node, ast.Compare):
            for at, operator in enumerate(node.ops):
                if type(operator) in COMPARED:
                    yield node, _Replace(node, "ops", _with(node.ops, at, COMPARED[type(operator)]()))
        elif isinstance(node, ast.BoolOp):
            yield node, _Replace(node, "op", ast.Or() if isinstance(node.op, ast.And) else ast.And())
        elif isinstance(node, ast.Constant) and (changed := _other(node.value)) is not None:
            yield node, _Replace(node, "value", changed)


@dataclass(frozen=True, slots=True)
class _Replace:
    node: ast.AST
    field: str
    value: object

    def __call__(self) -> None:
        setattr(self.node, self.field, self.value)


def _with(operators: list[ast.cmpop], at: int, other: ast.cmpop) -> list[ast.cmpop]:
    return [*operators[:at], other, *operators[at + 1 :]]


def _other(value: object) -> object:
    if isinstance(value, bool):
        return not value
    if isinstance(value, int):
        return value + 1
    if isinstance(value, float):
        return value * OFF_BY if value else 1.0
    return None


def _walk(node: ast.AST) -> Iterator[ast.AST]:
    """Every node that says what is done: not annotations, and not the arguments of decorators."""
    for field, value in ast.iter_fields(node):
        if field in {"annotation", "returns", "decorator_list", "type_params"}:
            continue
        for child in value if isinstance(value, list) else [value]:
            if isinstance(child, ast.AST):
                yield child
                if not _is_a_type(child):
                    yield from _walk(child)


def _is_a_type(node: ast.AST) -> bool:
    return isinstance(node, ast.Subscript) and isinstance(node.value, ast.Name) and node.value.id == "Literal"
