"""What was named on the photographs of a board that nobody has drawn, taken into its drawing.

The photographs lie under the drawing to scale by then, so that every click has its millimetres. Supplies keep the names
that they were read by: readings of the cards before go on counting.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from uvrix.core.boards.photograph import photograph_from
from uvrix.core.errors import Refusal
from uvrix.language import gettext

Document = dict[str, Any]
PLUG_MM = (20.0, 10.0)
# What a part that makes a supply is until somebody says better.
MAKES, CRYSTAL = "converter", "crystal"


def take_named(document: Document, edit: Mapping[str, Any]) -> None:
    """The edit `named`: `entries` as {name, kind, node, side, picture, x_px, y_px}, `nodes` the plan's as schema.NODE.

    What the drawing has under that name stays as it is; an entry whose photograph does not lie under it is left out.
    Raises Refusal where no photograph does.
    """
    photographs = {item["sha256"]: photograph_from(item) for item in document.get("photographs", ())}
    if not photographs:
        raise Refusal(
            "named",
            gettext("no photograph under the drawing"),
            gettext("one, laid to scale, that things were named on"),
        )
    taken = []
    for entry in edit["entries"]:
        photograph = photographs.get(entry["picture"])
        if photograph is None:
            continue
        x, y = photograph.place((float(entry["x_px"]), float(entry["y_px"])))
        _put(document, entry, {"side": entry["side"], "x_mm": round(x, 2), "y_mm": round(y, 2)})
        taken.append(entry)
    _chain(document, taken, edit.get("nodes", ()))


def _put(document: Document, entry: Mapping[str, Any], place: Mapping[str, Any]) -> None:
    name, kind, node = str(entry["name"]), str(entry["kind"]), str(entry.get("node", ""))
    known = {point["id"] for point in document.get("points", ())} | {
        entry["designator"] for section in ("parts", "sites") for entry in document.get(section, ())
    }
    if name in known or name == document["core"]["designator"]:
        return
    if kind == "part":
        rails = {"rails": [node]} if node else {}
        made = CRYSTAL if node == CRYSTAL else MAKES
        document.setdefault("parts", []).append({"designator": name, "kind": made, **place, **rails})
        return
    if kind == "plug":
        mark = {"kind": "power-plug", "x_mm": place["x_mm"], "y_mm": place["y_mm"], "size_mm": list(PLUG_MM)}
        if not any(landmark.get("text") == name for landmark in document.get("landmarks", ())):
            document.setdefault("landmarks", []).append({**mark, "text": name})
    document.setdefault("points", []).append({"id": name, **place, "kind": kind, **({"net": node} if node else {})})


def _chain(document: Document, taken: Sequence[Mapping[str, Any]], nodes: Sequence[Mapping[str, Any]]) -> None:
    """Rails and start-up map of the supplies that something was named for; a map that is there stays."""
    points: dict[str, list[str]] = {}
    parts: dict[str, list[str]] = {}
    for entry in taken:
        if node := str(entry.get("node", "")):
            where = parts if entry["kind"] in {"part", "coil"} else points
            where.setdefault(node, []).append(str(entry["name"]))
    kept = [node for node in nodes if node["id"] in points or node["id"] in parts]
    ids = {node["id"] for node in kept}
    if not document.get("rails"):
        document["rails"] = [
            {
                "id": node["id"],
                "name": node.get("name", node["id"]),
                "volts": round(sum(node["volts"]) / 2, 2),
                "points": points.get(node["id"], []),
                **({"input": True} if node["kind"] == "input" else {}),
            }
            for node in kept
            if node["kind"] in {"input", "rail"} and node.get("volts")
        ]
    if not document.get("startup", {}).get("nodes"):
        document["startup"] = {"nodes": [_node(node, ids, points, parts) for node in kept if node.get("volts")]}


def _node(
    node: Mapping[str, Any], ids: set[str], points: Mapping[str, list[str]], parts: Mapping[str, list[str]]
) -> dict[str, Any]:
    found: dict[str, Any] = {key: node[key] for key in ("id", "name", "kind", "volts") if key in node}
    if needs := [need for need in node.get("needs", ()) if need in ids]:
        found["needs"] = needs
    if own := points.get(node["id"]):
        found["point"] = own[0]
    if made := parts.get(node["id"]):
        found["parts"] = made
    return found
