"""Every kind is whole: its entry in the one registry, and each thing elsewhere that is made for it by name."""

from __future__ import annotations

import json
from datetime import UTC, datetime

import numpy as np
import pytest

from tests.core.boards.strategies import BOARDS
from uvrix.core.boards.document import read_board
from uvrix.core.cautions import CAUTIONS
from uvrix.core.finding_kinds import CAUSES, FINDING_KINDS, GROUPS, OF_ONE_CHIP, group_of
from uvrix.core.memory.finding import hypotheses
from uvrix.core.memory.finding.reasons import title
from uvrix.core.planning.causes import EFFECTS, REPAIRS
from uvrix.core.planning.habits import USUAL_COSTS
from uvrix.core.planning.plan import actions_for
from uvrix.core.proving.judge import JUDGES, Evidence, judge
from uvrix.core.proving.protocol import CHECK_KINDS, EMPTY, PROTOCOL_SCHEMA, USUAL, read_protocol
from uvrix.core.rework.acts import ACTS, DOES, HEATS, Do
from uvrix.core.rework.events import Event, replay
from uvrix.core.rework.settings import USUAL_TEMPLATES
from uvrix.core.virtual.faults import KINDS, fault_from

EARLY, LATER = datetime(2026, 1, 5, 9, tzinfo=UTC), datetime(2026, 1, 5, 10, tzinfo=UTC)
TEAL = read_board((BOARDS / "teal-8.board.json").read_bytes())


@pytest.mark.parametrize("name", FINDING_KINDS)
def test_a_kind_of_finding_is_whole(name):
    kind = FINDING_KINDS[name]
    assert kind.name == name
    assert title(name) == kind.title
    assert (name in OF_ONE_CHIP) == (kind.touches == "chip")
    broken = kind.touches != "nothing"
    assert bool(kind.means) == broken, "what names chips says what that means"
    assert kind.simulated == broken == (name in KINDS), "what names chips can be simulated"
    assert (group_of(name) is not None) == (name != "no-errors")
    assert actions_for(name, ("U11",), 0.8), "something to do about it is always said"


@pytest.mark.parametrize("name", [name for name, kind in FINDING_KINDS.items() if kind.touches != "nothing"])
def test_a_kind_that_names_chips_is_looked_for_and_simulated(name):
    makers = {maker.__name__.replace("_", "-") for maker in hypotheses.KINDS}
    assert name in makers or name == "joint", "a joint is seen by comparing runs, all others by their errors"
    place = {"controller": "controller:B", "rail-group": "rail-group:west", "everywhere": "everywhere"}
    fault = fault_from(TEAL, place.get(name, f"{name}:U15"), np.random.default_rng(1))
    assert fault.kind == name
    assert fault.designators


@pytest.mark.parametrize("name", GROUPS)
def test_a_group_of_findings_is_whole(name):
    group = GROUPS[name]
    assert any(kind.group == name for kind in FINDING_KINDS.values())
    assert set(group.shares) == set(CAUSES)
    assert sum(group.shares.values()) == pytest.approx(1)
    assert set(group.tried) <= set(EFFECTS)
    assert group.label


@pytest.mark.parametrize("cause", CAUSES)
def test_a_cause_is_whole(cause):
    assert CAUSES[cause]
    assert any(cause in effect.says_yes for effect in EFFECTS.values()), "some action shows or cures it"
    assert any(group.shares[cause] >= 0.1 for group in GROUPS.values()), "some finding points at it"


@pytest.mark.parametrize("do", EFFECTS)
def test_an_action_is_whole(do):
    effect = EFFECTS[do]
    assert set(effect.says_yes) <= set(CAUSES)
    assert all((effect.why, effect.yes, effect.no))
    assert do in USUAL_COSTS
    assert any(do in group.tried for group in GROUPS.values())
    assert do not in REPAIRS or effect.otherwise == 0, "a repair does not cure what is not broken"


@pytest.mark.parametrize("do", ACTS)
def test_an_act_is_whole(do):
    act = ACTS[do]
    assert act.do == do
    assert act.asked
    assert DOES[do] == act.done
    assert HEATS[do] is act.heat
    assert act.cautions or not act.heat.site, "firmware alone calls for none"
    assert set(act.cautions) <= set(CAUTIONS)
    if act.heat.site or act.heat.chip:
        assert "hot" in act.cautions
    begins: dict[str, Do] = {"place": "remove", "unsolder-lead": "solder-lead", "fit-coil": "lift-coil"}
    ready = [Event(EARLY, begins[do], "A", "U11", id="0")] if do in begins else []
    event = Event(LATER, do, "A", "U11", chip_in="S-1" if do in {"place", "swap"} else "", id="1")
    ledger = replay([*ready, event])
    assert ledger.cycles("A", "U11") == act.heat.site + act.heat.card + sum(
        HEATS[candidate.do].site for candidate in ready
    )


def test_templates_are_for_acts_that_are_known():
    assert {template["do"] for template in USUAL_TEMPLATES} <= set(ACTS)


@pytest.mark.parametrize("kind", CHECK_KINDS)
def test_a_kind_of_check_is_whole(kind):
    known = CHECK_KINDS[kind]
    assert known.kind == kind
    assert known.label
    assert kind in JUDGES
    check = PROTOCOL_SCHEMA["properties"]["checks"]["items"]
    assert kind in json.dumps(check["properties"]["kind"])
    assert {*known.figures, *known.needs} <= set(check["properties"])
    used = [candidate for candidate in read_protocol(EMPTY) if candidate.kind == kind]
    assert used, "the usual protocol has it"
    for candidate in used:
        said = judge(candidate, Evidence())
        assert (said.state, bool(said.why)) == ("open", True), "no evidence is no pass"


def test_each_kind_of_check_is_judged_and_no_other():
    assert set(JUDGES) == set(CHECK_KINDS)
    assert {entry["kind"] for entry in USUAL} == set(CHECK_KINDS)
