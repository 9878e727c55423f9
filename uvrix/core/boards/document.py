"""Reads a `.board.json` (docs/formats §1) and refuses whatever does not fit."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from decimal import Decimal
from fractions import Fraction
from graphlib import CycleError, TopologicalSorter
from typing import Any

from uvrix.core.boards.model import (
    ALL_LINES,
    AddressMap,
    Board,
    Core,
    Landmark,
    Part,
    ProbePoint,
    Site,
    Vector,
    Walk,
)
from uvrix.core.boards.schema import BOARD_SCHEMA
from uvrix.core.boards.walk import places
from uvrix.core.errors import Refusal, quoted
from uvrix.core.values.shape import check_shape
from uvrix.core.values.text import parse_json
from uvrix.language import gettext

# Drawn where a model leaves the size out: an ordinary memory package and a screw hole, millimetres.
SITE_SIZE = (14, 12)
LANDMARK_SIZE = (4, 4)


def read_board(data: bytes) -> Board:
    """The board model in a file's bytes.

    Raises Refusal naming the JSON path, what was found and what was expected.
    """
    return board_from_document(parse_json(data))


def board_from_document(document: Any) -> Board:
    """The board model in a parsed document (numbers as int, Decimal or float)."""
    check_shape(document, BOARD_SCHEMA)
    check_bands(document.get("startup", {}).get("nodes", ()))
    return board_unchecked(document)


def board_unchecked(document: Any) -> Board:
    """The board model in a document whose shape was checked; raises Refusal on what a schema cannot say."""
    core = _core(document["core"])
    sites = tuple(_site(entry, number) for number, entry in enumerate(document["sites"]))
    walk = _walk(document["walk"]) if "walk" in document else None
    _check_names(document)
    _check_walk(core, sites, walk)
    check_startup(document.get("startup", {}).get("nodes", ()))
    _check_outline(document["outline_mm"])
    return Board(
        id=document["id"],
        name=document["name"],
        revision=document.get("revision", ""),
        outline=tuple(_vector(point) for point in document["outline_mm"]),
        core=core,
        sites=sites,
        landmarks=tuple(_landmark(entry) for entry in document.get("landmarks", ())),
        points=tuple(_point(entry) for entry in document.get("points", ())),
        parts=tuple(_part(entry) for entry in document.get("parts", ())),
        walk=walk,
        address_map=_address_map(document["address_map"]) if "address_map" in document else None,
        document=document,
    )


def board_from_parts(core: Mapping[str, Any], sites: Sequence[Mapping[str, Any]]) -> tuple[Core, list[Site]]:
    """Core and sites of a document that is not whole yet."""
    return _core(core), [_site(entry, number) for number, entry in enumerate(sites)]


def _exact(number: float | Decimal) -> Fraction:
    """The decimal that the file shows; a float came from stored JSON and means its shortest decimal."""
    return Fraction(repr(number)) if isinstance(number, float) else Fraction(number)


def _vector(pair: Sequence[Any]) -> Vector:
    return _exact(pair[0]), _exact(pair[1])


def _centre(entry: Mapping[str, Any]) -> Vector:
    return _exact(entry["x_mm"]), _exact(entry["y_mm"])


def _core(entry: Mapping[str, Any]) -> Core:
    return Core(entry["designator"], _centre(entry), _vector(entry["size_mm"]), entry["mark_corner"])


def _landmark(entry: Mapping[str, Any]) -> Landmark:
    return Landmark(entry["kind"], _centre(entry), _vector(entry.get("size_mm", LANDMARK_SIZE)), entry.get("text", ""))


def _centre_if_any(entry: Mapping[str, Any]) -> Vector | None:
    return _centre(entry) if "x_mm" in entry and "y_mm" in entry else None


def _point(entry: Mapping[str, Any]) -> ProbePoint:
    return ProbePoint(
        id=entry["id"],
        side=entry.get("side", "front"),
        centre=_centre_if_any(entry),
        kind=entry.get("kind", "pad"),
        net=entry.get("net", ""),
        reach=entry.get("reach", "cooler-off"),
        minutes=_exact(entry.get("minutes", 1)),
        first=entry.get("first", False),
    )


def _part(entry: Mapping[str, Any]) -> Part:
    return Part(
        designator=entry["designator"],
        kind=entry["kind"],
        side=entry.get("side", "front"),
        centre=_centre_if_any(entry),
        value=entry.get("value", ""),
        rails=tuple(entry.get("rails", ())),
        weight=_exact(entry.get("weight", 1)),
        marking=entry.get("marking", ""),
    )


def _site(entry: Mapping[str, Any], number: int) -> Site:
    return Site(
        designator=entry["designator"],
        side=entry.get("side", "front"),
        centre=_centre(entry),
        size=_vector(entry.get("size_mm", SITE_SIZE)),
        rotation_deg=_exact(entry.get("rotation_deg", 0)),
        fitted=entry.get("fitted", True),
        channel=entry.get("channel"),
        lines=_lines(entry["dq"], f"$.sites[{number}].dq") if "dq" in entry else ALL_LINES,
        package=entry.get("package"),
        group=entry.get("group"),
        rail=entry.get("rail"),
        swap=tuple(entry.get("dq_swap", ())),
    )


def _lines(dq: Sequence[Any], path: str) -> int:
    """Mask of the lines of `[first, last]` or of a list of such pairs."""
    pairs = dq if all(isinstance(pair, list) for pair in dq) else [dq]
    mask = 0
    for pair in pairs:
        whole = len(pair) == 2 and all(isinstance(line, int) and not isinstance(line, bool) for line in pair)
        if not whole or not 0 <= pair[0] <= pair[1] <= 31:
            raise Refusal(path, quoted(dq), "[first, last] with 0 <= first <= last <= 31, or a list of such pairs")
        span = (1 << (pair[1] + 1)) - (1 << pair[0])
        if mask & span:
            raise Refusal(path, quoted(dq), gettext("pairs that do not overlap"))
        mask |= span
    return mask


def _walk(entry: Mapping[str, Any]) -> Walk:
    return Walk(entry["start"], entry["direction"], tuple(entry["order"]))


def _address_map(entry: Mapping[str, Any]) -> AddressMap:
    forms = [key for key in ("select", "stripe_bytes") if key in entry]
    if len(forms) != 1:
        raise Refusal(
            "$.address_map",
            gettext(" and ").join(forms) or gettext("neither form"),
            gettext("either select or stripe_bytes"),
        )
    order = tuple(entry["order"])
    if "stripe_bytes" in entry:
        return AddressMap(order, stripe_bytes=entry["stripe_bytes"])
    select = tuple(tuple(bits) for bits in entry["select"])
    if len(order) != 2 ** len(select):
        names = gettext(
            "{number} names, one for each index that {number_2} selected bits can give",
            number=2 ** len(select),
            number_2=len(select),
        )
        raise Refusal("$.address_map.order", gettext("{number} names", number=len(order)), names)
    return AddressMap(order, select=select)


def _check_names(document: Mapping[str, Any]) -> None:
    """Designators are unique; so are the ids of rails, points and start-up nodes, each among themselves."""
    chips = [("$.core.designator", document["core"]["designator"])]
    chips += [(f"$.sites[{n}].designator", entry["designator"]) for n, entry in enumerate(document["sites"])]
    _unique(chips)
    for section, key in (("parts", "designator"), ("rails", "id"), ("points", "id")):
        _unique((f"$.{section}[{n}].{key}", entry[key]) for n, entry in enumerate(document.get(section, ())))


def _unique(named: Iterable[tuple[str, str]]) -> None:
    first: dict[str, str] = {}
    for path, name in named:
        if name in first:
            raise Refusal(
                path,
                gettext("{name} again, as at {name_2}", name=quoted(name), name_2=first[name]),
                gettext("a name that is not taken"),
            )
        first[name] = path


def _check_walk(core: Core, sites: Sequence[Site], walk: Walk | None) -> None:
    front = [site for site in sites if site.side == "front"]
    for number, site in enumerate(sites):
        if walk and site.side == "front" and site.centre == core.centre:
            raise Refusal(
                f"$.sites[{number}]",
                gettext("{designator} at the core's centre", designator=site.designator),
                gettext("a place beside the core"),
            )
    if walk and len(walk.order) != len(front):
        raise Refusal(
            "$.walk.order",
            gettext("{number} names", number=len(walk.order)),
            gettext("{number}, as many as there are front sites", number=len(front)),
        )
    places(core, walk, sites)


def check_startup(nodes: Sequence[Mapping[str, Any]]) -> None:
    """Needs name nodes that exist and never go round in a circle."""
    _unique((f"$.startup.nodes[{n}].id", node["id"]) for n, node in enumerate(nodes))
    needs = {node["id"]: tuple(node.get("needs", ())) for node in nodes}
    for n, node in enumerate(nodes):
        for need in needs[node["id"]]:
            if need not in needs:
                raise Refusal(f"$.startup.nodes[{n}].needs", quoted(need), gettext("the id of a start-up node"))
    if circle := circle_of(needs):
        raise Refusal(
            "$.startup.nodes",
            gettext("needs that go round in a circle ({circle})", circle=", ".join(sorted({*circle}))),
            gettext("no circle"),
        )


def circle_of(needs: Mapping[str, Sequence[str]]) -> list[str]:
    """Nodes that need each other in a circle, each needing the next and the last the first; empty where none do."""
    try:
        TopologicalSorter(needs).prepare()
    except CycleError as error:
        ring: list[str] = error.args[1][:0:-1]  # it names each before what needs it, and its first again at the end
        return ring
    return []


def check_bands(nodes: Sequence[Mapping[str, Any]]) -> None:
    """The limits of a node, the lower first; a board that is kept already is read as it is."""
    for n, node in enumerate(nodes):
        low, high = node.get("volts", (0, 0))
        if low > high:
            raise Refusal(
                f"$.startup.nodes[{n}].volts", f"[{low}, {high}]", gettext("the lower limit first, then the upper")
            )


def _check_outline(outline: Sequence[Sequence[Any]]) -> None:
    for axis, name in enumerate("xy"):
        if len({point[axis] for point in outline}) < 2:
            raise Refusal(
                "$.outline_mm",
                gettext("points that all have one {name}", name=name),
                gettext("an outline with an area"),
            )
