"""Volts: the start-up map with what was read, suspects, the next probe; the supply; the ladder."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Annotated, Any, cast, get_args
from uuid import UUID

from drf_spectacular.utils import extend_schema, extend_schema_field
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.core.readings.limits import SLOT_LIMIT_W
from uvrix.core.readings.notation import shown
from uvrix.core.readings.sense import sense
from uvrix.core.rework.acts import Do
from uvrix.core.startup.chain import Node
from uvrix.core.startup.converter import converters
from uvrix.core.startup.ladder import RUNGS, WORDS, Draw, limit_to_set
from uvrix.core.startup.phases import Word as PhaseWord
from uvrix.core.startup.refuted import CAME_OF
from uvrix.core.startup.supervisors import Word as SupervisorWord
from uvrix.language import gettext
from uvrix.shop.accounts.entries import entry_of, person
from uvrix.shop.acts.models import Act
from uvrix.shop.config.access import BENCH, EVERYONE
from uvrix.shop.config.shapes import chosen, declared, extended, given, shape, written
from uvrix.shop.jobs.api import found_job
from uvrix.shop.jobs.models import Job
from uvrix.shop.library.shapes import MapNodeAnswer, map_node
from uvrix.shop.library.startups import StartupMap
from uvrix.shop.ohms.api import BlockSerializer, PowerStateSerializer
from uvrix.shop.ohms.guard import locks
from uvrix.shop.ohms.queries import core_reading, measured, plugs_of, points, power_state, value_of
from uvrix.shop.volts.models import StartCurve, Supply
from uvrix.shop.volts.queries import VoltsContext, volts_context
from uvrix.shop.volts.services import (
    DONE,
    DONE_WORDS,
    NewDraw,
    NewPartTried,
    NewRung,
    enter_draw,
    enter_rung,
    load_rail,
    see_phase,
    try_part,
)

RUNG_FIELDS = ("id", "rung", "picture_of", "beep", "beep_seconds", "note", "at")
SOURCES = ["own", "lent", "rails", "plan"]


@dataclass(frozen=True, slots=True)
class NodeReadAnswer(MapNodeAnswer):
    """A node of the map: its state as measured, its chance to be the dead one."""

    state: Annotated[str, chosen(["present", "missing", "unknown"])]
    over: bool
    shown: str
    chance: float


@dataclass(frozen=True, slots=True)
class NodeSuspectAnswer:
    """A node that may be the dead one."""

    node: str
    name: str
    parts: Sequence[str]
    chance: float
    why: str


@dataclass(frozen=True, slots=True)
class NextProbeAnswer:
    """A node to measure next, best first."""

    node: str
    name: str
    point: str
    gain_bits: float
    minutes: float
    why: str


@dataclass(frozen=True, slots=True)
class RuledOutAnswer:
    """A node that is not the dead one, and by what."""

    node: str
    name: str
    why: str


class SensePathSerializer(serializers.Serializer[Any]):
    """An input of a supervisor: both ends of its sense path."""

    designator = serializers.CharField()
    rail = serializers.CharField()
    name = serializers.CharField()
    high_point = serializers.CharField(allow_blank=True)
    low_point = serializers.CharField(allow_blank=True)
    threshold_v = serializers.FloatField(allow_null=True)
    high = serializers.CharField(allow_blank=True)
    low = serializers.CharField(allow_blank=True)
    found = serializers.ChoiceField(choices=list(get_args(SupervisorWord)))
    says = serializers.CharField()


class DrawSerializer(serializers.Serializer[Any]):
    """What the card drew, and what that says."""

    id = serializers.UUIDField()
    volts = serializers.FloatField()
    amps = serializers.FloatField()
    limit_amps = serializers.FloatField(allow_null=True)
    note = serializers.CharField(allow_blank=True)
    tells = serializers.ChoiceField(choices=list(get_args(Draw)))
    says = serializers.CharField()
    by = serializers.CharField()
    at = serializers.DateTimeField()


class RungSerializer(serializers.Serializer[Any]):
    """A rung that was reached, and what it leaves open."""

    id = serializers.UUIDField()
    rung = serializers.ChoiceField(choices=RUNGS)
    words = serializers.CharField()
    picture_of = serializers.ChoiceField(choices=["card", "other", ""])
    beep = serializers.CharField(allow_blank=True)
    beep_seconds = serializers.FloatField(allow_null=True)
    note = serializers.CharField(allow_blank=True)
    says = serializers.CharField()
    by = serializers.CharField()
    at = serializers.DateTimeField()


class PhaseSerializer(serializers.Serializer[Any]):
    """A phase among its equals."""

    designator = serializers.CharField()
    rail = serializers.CharField(allow_blank=True)
    point = serializers.CharField(allow_blank=True)
    amps = serializers.FloatField(allow_null=True)
    khz = serializers.FloatField(allow_null=True, source="read.khz")
    celsius = serializers.FloatField(allow_null=True, source="read.celsius")
    compares = serializers.ChoiceField(choices=list(get_args(PhaseWord)), source="word")
    says = serializers.CharField()


class PhaseShareSerializer(serializers.Serializer[Any]):
    """The load on the phases that are left."""

    rail = serializers.CharField()
    each = serializers.FloatField()
    within = serializers.BooleanField()
    says = serializers.CharField()


class ClockSerializer(serializers.Serializer[Any]):
    """A clock that is not there, and what that means so far."""

    node = serializers.CharField()
    lift_core = serializers.BooleanField()
    says = serializers.CharField()


class PartTriedSerializer(serializers.ModelSerializer[Act]):
    """A part that was tried for a node, and what came of it."""

    part = serializers.CharField(source="site")
    done = serializers.SerializerMethodField()
    came_of = serializers.ChoiceField(choices=list(CAME_OF))
    by = serializers.CharField(source="by.shown_name")

    class Meta:
        model = Act
        fields = ["id", "node", "part", "done", "came_of", "note", "by", "at"]

    @extend_schema_field(serializers.ChoiceField(choices=list(DONE)))
    def get_done(self, row: Act) -> str:
        """What was done."""
        return DONE_WORDS[cast("Do", row.do)]


class SupplySerializer(serializers.ModelSerializer[Supply]):
    """A bench supply."""

    class Meta:
        model = Supply
        fields = ["id", "name", "address"]


class StartCurveSerializer(serializers.ModelSerializer[StartCurve]):
    """The current at a start; `samples` are [seconds, volts, amperes]."""

    samples = serializers.ListField(child=serializers.ListField(child=serializers.FloatField()))
    supply = serializers.CharField(source="supply.name")
    by = serializers.CharField(source="by.shown_name")

    class Meta:
        model = StartCurve
        fields = ["id", "supply", "volts", "limit_amps", "samples", "left_on", "says", "by", "at"]


@dataclass(frozen=True, slots=True)
class VoltsAnswer:
    """Everything of Volts."""

    power: Annotated[Any, declared(PowerStateSerializer(allow_null=True))]
    blocks: Annotated[Iterable[Any], declared(BlockSerializer(many=True))]
    map_source: Annotated[str, chosen([*SOURCES, ""])]
    lender: str
    columns: int
    rows: float
    nodes: Sequence[NodeReadAnswer]
    suspects: Sequence[NodeSuspectAnswer]
    next: Sequence[NextProbeAnswer]
    ruled_out: Sequence[RuledOutAnswer]
    warnings: Sequence[str]
    read: int
    supervisors: Annotated[Iterable[Any], declared(SensePathSerializer(many=True))]
    limit_amps: float
    limit_why: str
    draws: Annotated[Iterable[Any], declared(DrawSerializer(many=True))]
    rungs: Annotated[Iterable[Any], declared(RungSerializer(many=True))]
    phases: Annotated[Iterable[Any], declared(PhaseSerializer(many=True))]
    shares: Annotated[Iterable[Any], declared(PhaseShareSerializer(many=True))]
    plugs: int
    clocks: Annotated[Iterable[Any], declared(ClockSerializer(many=True))]
    tried: Annotated[Iterable[Any], declared(PartTriedSerializer(many=True))]
    stale: Sequence[str]
    converters: Sequence[str]
    supplies: Annotated[Iterable[Any], declared(SupplySerializer(many=True))]
    starts: Annotated[Iterable[Any], declared(StartCurveSerializer(many=True))]


MOST_STARTS = 6


def volts_of(job: Job) -> Any:
    """What the job's page at Volts shows."""
    at, cold = volts_context(job), measured(job)
    where = {point.name: point for point in points(job)}
    chance = {suspect.node.id: suspect.chance for suspect in at.found.suspects} if at.found else {}
    nodes = [_node(node, at, where, chance) for node in at.map.chain.nodes] if at.map else []
    limit, why = limit_to_set(None, inputs_low=True) if cold.low_inputs else at.limit
    shown_now = VoltsAnswer(
        power=power_state(job),
        blocks=locks(job, cold),
        map_source=at.map.source if at.map else "",
        lender=at.map.lender if at.map else "",
        columns=at.layout.columns if at.layout else 0,
        rows=at.layout.rows if at.layout else 0,
        nodes=nodes,
        suspects=[
            NodeSuspectAnswer(
                node=suspect.node.id,
                name=suspect.node.name,
                parts=suspect.node.parts,
                chance=suspect.chance,
                why=suspect.why,
            )
            for suspect in (at.found.suspects if at.found else ())
        ],
        next=[
            NextProbeAnswer(
                node=probe.node.id,
                name=probe.node.name,
                point=probe.node.point or "",
                gain_bits=probe.gain_bits,
                minutes=probe.node.minutes,
                why=probe.why,
            )
            for probe in (at.found.probes if at.found else ())
        ],
        ruled_out=[RuledOutAnswer(node=node.id, name=node.name, why=why) for node, why in at.ruled_out],
        warnings=_warnings(at.map, at),
        read=len(at.readings),
        supervisors=[_sensed(supervisor) for supervisor in at.supervisors],
        limit_amps=limit,
        limit_why=why,
        draws=[
            {
                **{name: getattr(row, name) for name in ("id", "volts", "amps", "limit_amps", "note", "at")},
                "by": row.by.shown_name,
                "tells": said.word,
                "says": said.says,
            }
            for row, said in at.draws
        ],
        rungs=[
            {
                **{
                    name: getattr(row, name)
                    for name in ("id", "rung", "picture_of", "beep", "beep_seconds", "note", "at")
                },
                "words": WORDS[said.rung],
                "by": row.by.shown_name,
                "says": said.says,
            }
            for row, said in at.rungs
        ],
        phases=at.phases,
        shares=at.shares,
        plugs=plugs_of(job),
        clocks=at.clocks,
        tried=at.tried,
        stale=sorted(at.stale),
        converters=[node.id for node in converters(at.map.chain)] if at.map else [],
        supplies=Supply.objects.order_by("name"),
        starts=job.startcurve_rows.select_related("by", "supply").order_by("-at", "-pk")[:MOST_STARTS],
    )
    return written(shown_now)


def _warnings(found: StartupMap | None, at: VoltsContext) -> list[str]:
    lent = []
    if found and found.source == "plan":
        lent = [gettext("Nobody has drawn this board: the usual order of start stands in, and its bands are wide.")]
    elif found and found.lender:
        how = f" ({found.alike})" if found.alike else ""
        lent = [
            gettext(
                "This map is lent by {lender}{how}: bands, order and enables may differ here.",
                lender=found.lender,
                how=how,
            )
        ]
    return [*lent, *(at.found.warnings if at.found else ())]


def _node(node: Node, at: VoltsContext, where: dict[str, Any], chance: dict[str, float]) -> NodeReadAnswer:
    assert at.layout
    assert at.found
    said, state = at.read.get(node.id), at.found.measured[node.id]
    return extended(
        NodeReadAnswer,
        map_node(node, at.layout, where.get(node.point or "")),
        state=state.state,
        over=state.over,
        shown=shown(value_of(said), core_reading(said).quantity) if said else "",
        chance=chance.get(node.id, 0.0),
    )


def _sensed(sensed: Any) -> dict[str, Any]:
    names = ("designator", "rail", "name", "high_point", "low_point", "threshold_v", "says")
    return {
        **{name: getattr(sensed, name) for name in names},
        "high": shown(sensed.high, "voltage") if sensed.high else "",
        "low": shown(sensed.low, "voltage") if sensed.low else "",
        "found": sensed.word,
    }


class JobVolts(APIView):
    """Volts."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=shape(VoltsAnswer))
    def get(self, request: Request, number: int) -> Response:
        """The map, what was read, suspects, the next probe, supply and ladder."""
        return Response(volts_of(found_job(number)))


class JobDraws(APIView):
    """Currents on the supply."""

    roles = {"POST": BENCH}

    @extend_schema(request=shape(NewDraw), responses={201: shape(VoltsAnswer), 200: shape(VoltsAnswer)})
    def post(self, request: Request, number: int) -> Response:
        """Enter one."""
        entry, job = entry_of(request, NewDraw), found_job(number)
        _, new = enter_draw(job, entry, person(request))
        return Response(volts_of(job), 201 if new else 200)


class JobRungs(APIView):
    """The detection ladder."""

    roles = {"POST": BENCH}

    @extend_schema(request=shape(NewRung), responses={201: shape(VoltsAnswer), 200: shape(VoltsAnswer)})
    def post(self, request: Request, number: int) -> Response:
        """Enter a rung."""
        entry, job = entry_of(request, NewRung), found_job(number)
        _, new = enter_rung(job, entry, person(request))
        return Response(volts_of(job), 201 if new else 200)


@dataclass(frozen=True, slots=True)
class NewPhase:
    """What was read at a phase."""

    id: UUID
    designator: Annotated[str, given(max_length=64)]
    khz: Annotated[float | None, given(min_value=0, max_value=10000)] = None
    celsius: Annotated[float | None, given(min_value=-40, max_value=200)] = None


class JobPhases(APIView):
    """Phases."""

    roles = {"POST": BENCH}

    @extend_schema(request=shape(NewPhase), responses={201: shape(VoltsAnswer), 200: shape(VoltsAnswer)})
    def post(self, request: Request, number: int) -> Response:
        """Enter what was read at one."""
        entry, job = entry_of(request, NewPhase), found_job(number)
        read = entry.khz, entry.celsius
        new = see_phase(job, entry.id, entry.designator, read, person(request))
        return Response(volts_of(job), 201 if new else 200)


@dataclass(frozen=True, slots=True)
class NewLoad:
    """What a rail draws."""

    id: UUID
    rail: Annotated[str, given(max_length=64)]
    amps: Annotated[float, given(min_value=0, max_value=2000)]


class JobRailLoads(APIView):
    """Loads of rails."""

    roles = {"POST": BENCH}

    @extend_schema(request=shape(NewLoad), responses={201: shape(VoltsAnswer), 200: shape(VoltsAnswer)})
    def post(self, request: Request, number: int) -> Response:
        """Enter one."""
        entry, job = entry_of(request, NewLoad), found_job(number)
        new = load_rail(job, entry.id, entry.rail, entry.amps, person(request))
        return Response(volts_of(job), 201 if new else 200)


class JobTried(APIView):
    """Parts that were tried."""

    roles = {"POST": BENCH}

    @extend_schema(request=shape(NewPartTried), responses={201: shape(VoltsAnswer), 200: shape(VoltsAnswer)})
    def post(self, request: Request, number: int) -> Response:
        """Enter one, and what came of it."""
        entry, job = entry_of(request, NewPartTried), found_job(number)
        _, new = try_part(job, entry, person(request))
        return Response(volts_of(job), 201 if new else 200)


@dataclass(frozen=True, slots=True)
class SenseRequest:
    """The two voltages at a shunt's ends, and what the card reckons from them."""

    shunt_mohm: Annotated[float, given(min_value=0.01, max_value=1000)]
    rail_v: Annotated[float, given(min_value=0.1, max_value=20)]
    high_v: Annotated[float, given(min_value=-1, max_value=20)]
    low_v: Annotated[float, given(min_value=-1, max_value=20)]
    limit_w: Annotated[float, given(min_value=1, max_value=1000)] = SLOT_LIMIT_W


class SensedPowerSerializer(serializers.Serializer[Any]):
    """What the card believes that it draws."""

    amps = serializers.FloatField()
    watts = serializers.FloatField()
    plausible = serializers.BooleanField()
    why = serializers.CharField()


class ReportedPower(APIView):
    """What a card believes it draws."""

    roles = {"POST": EVERYONE}

    @extend_schema(request=shape(SenseRequest), responses=SensedPowerSerializer)
    def post(self, request: Request) -> Response:
        """Reckon it; nothing is kept."""
        asked = entry_of(request, SenseRequest)
        said = sense(
            asked.shunt_mohm / 1000,
            asked.rail_v,
            asked.high_v,
            asked.low_v,
            asked.limit_w,
        )
        return Response(SensedPowerSerializer(said).data)
