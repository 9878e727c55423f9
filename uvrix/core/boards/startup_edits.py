"""Edits of a model's start-up map: nodes added, changed, linked and taken away; a circle is refused and named."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from uvrix.core.boards.document import circle_of
from uvrix.core.boards.schema import NODE_KINDS
from uvrix.core.errors import Refusal, quoted
from uvrix.language import gettext

Document = dict[str, Any]


def _nodes(document: Document) -> list[dict[str, Any]]:
    nodes: list[dict[str, Any]] = document.setdefault("startup", {}).setdefault("nodes", [])
    return nodes


def _found(document: Document, name: str) -> dict[str, Any]:
    for node in _nodes(document):
        if node.get("id") == name:
            return node
    raise Refusal("id", quoted(name), gettext("a node of the map"))


def put_node(document: Document, edit: Mapping[str, Any]) -> None:
    """A node of the map as it is to be; `id` is the one it has so far, empty for a new one. Needs follow a new name."""
    entry, before = dict(edit["entry"]), str(edit.get("id") or "")
    name = str(entry.get("id", "")).strip()
    if not name:
        raise Refusal("entry", gettext("a node without an id"), gettext("an id such as 1v8"))
    if entry.get("kind", "rail") not in NODE_KINDS:
        raise Refusal(
            "entry", quoted(entry.get("kind")), gettext("one of {node_kinds}", node_kinds=", ".join(NODE_KINDS))
        )
    low, high = entry.get("volts", (0, 0))
    if float(low) > float(high):
        raise Refusal(
            "entry", gettext("a band from {low} to {high}", low=low, high=high), gettext("the lower end first")
        )
    nodes = _nodes(document)
    if name != before and any(node.get("id") == name for node in nodes):
        raise Refusal(
            "entry", gettext("the id {name} again", name=quoted(name)), gettext("an id that no other node has")
        )
    entry["id"] = name
    entry.setdefault("needs", [])
    for need in entry["needs"]:
        if need != name:
            _found(document, need)
    if before:
        _found(document, before)
        document["startup"]["nodes"] = [entry if node.get("id") == before else node for node in nodes]
        for node in document["startup"]["nodes"]:
            node["needs"] = [name if need == before else need for need in node.get("needs", ())]
    else:
        nodes.append(entry)
    for need in list(entry["needs"]):
        _check_circle(document, name, need)


def drop_node(document: Document, edit: Mapping[str, Any]) -> None:
    """A node taken away; what needed it needs what it needed, so that the chain holds."""
    name = str(edit["id"])
    gone = _found(document, name)
    document["startup"]["nodes"] = [node for node in _nodes(document) if node is not gone]
    for node in document["startup"]["nodes"]:
        if name in node.get("needs", ()):
            rest = [need for need in node["needs"] if need != name]
            node["needs"] = [*rest, *(need for need in gone.get("needs", ()) if need not in rest)]


def link_nodes(document: Document, edit: Mapping[str, Any]) -> None:
    """A node needs another from now on, or no more (`on` false). Refused where it would go round in a circle."""
    node, need = _found(document, str(edit["id"])), str(edit["needs"])
    _found(document, need)
    rest = [entry for entry in node.get("needs", ()) if entry != need]
    node["needs"] = [*rest, need] if edit.get("on", True) else rest
    if edit.get("on", True):
        _check_circle(document, str(edit["id"]), need)


def take_nodes(document: Document, edit: Mapping[str, Any]) -> None:
    """A whole map, as a relative lends it; `lender` is noted with every node."""
    lender = str(edit.get("lender", ""))
    document["startup"] = {**document.get("startup", {}), "nodes": []}
    for entry in edit["nodes"]:
        own = {key: value for key, value in dict(entry).items() if key not in {"needs", "parts"}}
        document["startup"]["nodes"].append({**own, "needs": [], **({"from": lender} if lender else {})})
    for entry in edit["nodes"]:
        for need in entry.get("needs", ()):
            link_nodes(document, {"id": entry["id"], "needs": need})


def _check_circle(document: Document, name: str, need: str) -> None:
    """Raise Refusal naming the circle that a node closes by needing another."""
    needs = {node["id"]: list(node.get("needs", ())) for node in _nodes(document)}
    if circle := circle_of({**needs, name: [*needs.get(name, ()), need]}):
        at = circle.index(name)
        ring = gettext(" needs ").join([*circle[at:], *circle[:at], name])
        raise Refusal("needs", gettext("a circle: {ring}", ring=ring), gettext("needs that begin at an input"))
