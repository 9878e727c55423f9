"""What to do next: what is never proposed, and the scenes of the two issues, step by step."""

from __future__ import annotations

import pytest
from hypothesis import given

from tests.core.boards.strategies import BOARDS
from tests.core.case.cards import BOARD, KNOWN, RAILS, READ, Entry, did, facts, read, run, steps, told
from tests.core.case.test_belief import DEAD, FED, GOOD_INPUTS, LOOKED, MISSING, NO_1V8, SHORT, glow
from tests.core.case.test_counts import ENTRIES
from uvrix.core.boards.document import read_board
from uvrix.core.case.answer import answer
from uvrix.core.case.case_file import case_document, case_from
from uvrix.core.case.facts import Facts
from uvrix.core.case.feeding import feeding
from uvrix.core.case.plan.order import plan
from uvrix.core.case.shop import Shop

POWERED = {"draw", "rung", "run"}
FIELDS = {"do", "target", "step", "minutes", "risk", "gain", "why"}
SCREENS = {"arrive", "look", "ohms", "volts", "memory", "rework", "prove", "return"}
DONE: list[Entry] = [run("pass", "cold"), run("pass", "warm"), {"rung": "3d"}]


def first(*entries, **more):
    return steps(told(*entries, **more))[0]


@given(ENTRIES)
def test_what_is_never_proposed(entries):
    found = facts(*entries)
    for entry in told(*entries)["next"]:
        assert set(entry) >= FIELDS
        assert entry["step"] in SCREENS
        assert 0 <= entry["gain"] <= 1
        powers = entry["do"] in POWERED or (entry["do"] == "power" and entry["target"] != "off")
        assert not powers or found.allowed, "power on a locked card"
        assert entry["do"] != "run" or not {"U1", "U11", "U12", "U13", "U14"} & found.card.empty
        assert entry["do"] not in {"place", "swap"} or entry["target"] not in found.card.cut
        assert entry["do"] != "bake"
        assert (entry["do"], entry["target"]) != ("return", "repaired") or not found.owed
        assert entry["do"] != "remove" or entry["target"] not in found.card.empty
    assert told(*entries)["next"]


def test_the_order_of_the_trade():
    assert first() == ("symptom", "card")
    assert first(DEAD)[0] == "look"
    assert first(DEAD, LOOKED)[0] == "read"
    asked = {target for _, target in steps(told(DEAD, LOOKED))}
    assert {"L1", "F1", "C41", "F2"} <= asked
    assert first(DEAD, LOOKED, *READ, *RAILS) == ("power", "supply")
    assert first(DEAD, LOOKED, *READ, *RAILS, {"power": "supply"}) == ("draw", "supply")
    assert first({"symptom": ["artefacts"]}, LOOKED, *READ) == ("power", "computer")


def test_a_technician_who_goes_another_way_is_followed():
    """Ohms were read without a look: the look waits further down, nobody is sent back."""
    assert first(DEAD, READ[0])[0] == "read"
    assert first(DEAD, *READ, *RAILS)[0] == "power"


def test_from_the_short_to_the_part():
    so_far: list[Entry] = [DEAD, LOOKED, *SHORT, *RAILS]
    assert first(*so_far)[0] in {"inject", "read"}
    assert first(*so_far, FED) == ("glow", "L1")
    assert first(*so_far, FED, glow("C2")) == ("remove", "C2")
    off = [*so_far, FED, glow("C2"), did("remove", "C2")]
    assert first(*off) == ("read", "L1")
    assert first(*off, READ[0], READ[1]) == ("swap", "C2")
    still = [*off, read("L1", "0R4")]
    assert first(*still)[0] in {"inject", "read"}
    assert first(*still, FED, glow("C2", 0.2, 0.1)) == ("cut-layers", "C2")


def refused(reason: str) -> Entry:
    return {"run": {"result": "refused", "refusal": reason, "condition": ["cold"]}}


def test_a_refusal_is_looked_into_where_it_points_and_not_for_ever():
    on_the_bus: list[Entry] = [{"symptom": ["artefacts"]}, LOOKED, *READ, {"power": "computer"}, {"rung": "listed"}]
    once = [*on_the_bus, refused("wrong-index")]
    assert first(*once) == ("run", "cold")
    assert "bus index" in told(*once)["next"][0]["why"]
    assert "last worked" not in told(*once)["next"][0]["why"]
    twice = [*once, refused("wrong-index")]
    assert first(*twice) == ("run", "cold")
    assert "last worked on this model and host" in told(*twice)["next"][0]["why"]
    assert ("run", "cold") not in steps(told(*twice, refused("wrong-index")))
    # a card that is not found is looked for on the bus first; found there, it is the tester that looks elsewhere
    lost = [*on_the_bus, refused("not-found")]
    assert first(*lost) == ("rung", "computer")
    assert first(*lost, {"rung": "listed"}) == ("run", "cold")
    assert "it is listed" in told(*lost, {"rung": "listed"})["next"][0]["why"]
    assert ("run", "cold") not in steps(told(*lost, {"rung": "absent"}))


def test_a_place_that_was_cut_is_never_filled():
    found = steps(told(DEAD, *SHORT, did("remove", "U72"), read("L1", "0R4"), did("cut-layers", "U72")))
    assert not [row for row in found if row in {("place", "U72"), ("swap", "U72")}]
    assert found[0] == ("read", "L1")


def test_a_blown_fuse_waits_for_what_is_behind_it():
    blown = [read("F1", "OL"), *READ[2:]]
    assert ("swap", "F1") not in steps(told(DEAD, LOOKED, READ[0], *blown, *RAILS))
    assert {("read", "F1.1"), ("read", "F1.2")} <= set(steps(told(DEAD, LOOKED, READ[0], *blown, *RAILS)))
    both = [read("F1.1", "4k2"), read("F1.2", "4k1")]
    assert first(DEAD, LOOKED, READ[0], *blown, *RAILS, *both) == ("swap", "F1")
    assert ("swap", "F1") not in steps(told(DEAD, LOOKED, read("L1", "0R4"), *blown, *RAILS))


def test_a_missing_part_is_fitted_wherever_it_was_seen():
    assert first(DEAD, MISSING, *READ, *RAILS, *NO_1V8) == ("place", "U62")
    assert ("place", "U62") not in steps(told(DEAD, MISSING, did("place", "U62")))


def test_the_enable_before_the_converter():
    live: list[Entry] = [{"power": "supply"}, read("L1", "12", "voltage"), read("L2", "0.02", "voltage")]
    assert first(DEAD, LOOKED, *READ, *RAILS, *live) == ("read", "T1")
    there: list[Entry] = [*live, read("T1", "3.3", "voltage")]
    assert first(DEAD, LOOKED, *READ, *RAILS, *there) == ("look", "U50")
    assert first(DEAD, LOOKED, *READ, *RAILS, *there, {"looked": "U50"}) == ("swap", "U50")


def test_after_a_repair_the_rails_touched_then_power_then_the_proof():
    swapped: list[Entry] = [DEAD, LOOKED, *READ, *RAILS, *NO_1V8, {"power": "off"}, did("swap", "U50")]
    assert first(*swapped) == ("read", "L1")
    assert steps(told(*swapped))[1] == ("read", "L2")


def test_a_clean_run_after_a_reball_is_proven_further_and_the_chip_left_alone():
    failed = run("fail", "cold", channel="B0", line=13)
    so_far: list[Entry] = [{"symptom": ["artefacts"]}, *READ, {"power": "computer"}, {"rung": "picture"}, failed]
    assert first(*so_far) == ("mark", "U13")
    marked: list[Entry] = [*so_far, {"answered": {"do": "mark", "answer": "U13"}}]
    assert first(*marked) == ("reball", "U13")
    assert first(*marked, shop={"school": "replace-first"}) == ("swap", "U13")
    clean = [*marked, {"power": "off"}, did("reball", "U13"), RAILS[1], {"power": "computer"}, run("pass", "cold")]
    assert not {do for do, _ in steps(told(*clean))} & {"reball", "remove", "swap", "return"}


@pytest.mark.parametrize(
    ("line", "school", "repair"),
    [
        # one line fails: the joint is likelier, and reballing costs no part
        (13, None, "reball"),
        (13, "reball-first", "reball"),
        (13, "replace-first", "swap"),
        # the whole chip fails: another one cures either way, which is worth half as much again, not five times
        (None, None, "swap"),
        (None, "reball-first", "reball"),
        (None, "replace-first", "swap"),
    ],
)
def test_the_school_decides_between_repairs_unless_the_odds_say_otherwise(line, school, repair):
    failed = run("fail", "cold", channel="B0", line=line)
    if line is None:
        failed["run"] |= {"errors": {"B0": 6400}, "dq": {"B0": [200] * 32}}
    so_far: list[Entry] = [{"symptom": ["artefacts"]}, *READ, {"power": "computer"}, {"rung": "picture"}, failed]
    marked: list[Entry] = [*so_far, {"answered": {"do": "mark", "answer": "U13"}}]
    found = steps(told(*marked, shop={"school": school} if school else {}))
    assert next(row for row in found if row[0] in {"reball", "swap"}) == (repair, "U13")


def test_a_lot_that_fails_here_is_asked_about_before_its_first_chip_is_lifted():
    failed = run("fail", "cold", channel="B0", line=13)
    shop = {"lots": [{"lot": "K4471", "failed": 9, "of": 24}]}
    so_far: list[Entry] = [{"symptom": ["artefacts"]}, *READ, {"power": "computer"}, {"rung": "picture"}, failed]
    assert first(*so_far, shop=shop) == ("look", "U13")
    read_off = [*so_far, {"lot": {"site": "U13", "lot": "K4471"}}]
    assert first(*read_off, shop=shop)[0] == "ask"
    answered = [*read_off, {"answered": {"do": "ask", "answer": "one"}}]
    assert first(*answered, shop=shop) == ("mark", "U13")


def test_worth_turns_the_step_into_a_question():
    failed = run("fail", "cold", channel="B0", line=13)
    so_far: list[Entry] = [{"symptom": ["artefacts"]}, *READ, {"power": "computer"}, {"rung": "picture"}, failed]
    marked = [*so_far, {"answered": {"do": "mark", "answer": "U13"}}]
    shop = {"worth": {"price": 40, "hour": 60, "spent_minutes": 30, "card": 300}}
    assert first(*marked, shop=shop) == ("ask", "price")
    no = [*marked, {"answered": {"do": "ask", "answer": "no"}}]
    assert first(*no, shop=shop) == ("return", "no-fix")
    assert first(*marked, shop={"worth": {"price": 400, "hour": 60, "spent_minutes": 30}}) == ("reball", "U13")


def test_nothing_leaves_with_something_owed_or_unproven():
    by_hand = ("identity", "link", "sensors", "stress", "clocks", "loads", "score", "outputs", "plugs", "fans")
    proven = [{"checked": {"check": check, "passed": True}} for check in (*by_hand, "cold-start", "current")]
    whole: list[Entry] = [
        {"symptom": ["artefacts"]},
        LOOKED,
        did("reball", "U13"),
        *READ,
        *RAILS,
        {"draw": {"volts": 12, "amps": 1.1, "limit": 5}},
        {"power": "computer"},
        *DONE,
        *proven,
    ]
    assert first(*whole) == ("return", "repaired")
    assert ("return", "repaired") not in steps(told(*whole[:-1]))
    lead = [whole[0], did("solder-lead", "L2"), *whole[1:]]
    assert ("return", "repaired") not in steps(told(*lead))
    assert ("unsolder-lead", "L2") in steps(told(*lead))


def test_what_can_never_be_proven_is_not_asked_for_for_ever():
    """Without one good card of the model no reading can pass: the rest of the proof is enough to let the card go."""
    by_hand = ("identity", "link", "sensors", "stress", "clocks", "loads", "score", "outputs", "plugs", "fans")
    proven = [{"checked": {"check": check, "passed": True}} for check in (*by_hand, "cold-start", "current")]
    drawn: Entry = {"draw": {"volts": 12, "amps": 1.1, "limit": 5}}
    begun: list[Entry] = [{"symptom": ["artefacts"]}, LOOKED, did("reball", "U13"), *READ, *RAILS, drawn]
    case = facts(*begun, {"power": "computer"}, *DONE, *proven).case
    bare = answer(Facts(case, BOARD))
    assert [check["check"] for check in bare["proof"]["checks"] if check["state"] != "passed"] == ["readings"]
    assert steps(bare)[0] == ("return", "repaired")


def test_without_one_good_card_a_rail_under_an_ohm_is_hunted_and_a_swap_without_effect_is_not_repeated():
    bare = facts(DEAD, LOOKED, *READ, read("L2", "0R4"), *RAILS[1:])
    assert Facts(bare.case, BOARD).shorted == ("1v8",), "only a core's own rail may be that low and healthy"
    assert steps(answer(Facts(bare.case, BOARD)))[0][0] in {"inject", "read"}
    yet = [read("L1", "12", "voltage"), read("T1", "3.3", "voltage"), read("L2", "0.02", "voltage")]
    again = facts(DEAD, LOOKED, *READ, *RAILS, *yet, did("swap", "U50"), *READ, *yet, did("swap", "U62"), *READ, *yet)
    assert "U50" in again.without_effect
    assert ("swap", "U50") not in steps(told(DEAD, LOOKED, *READ, *RAILS, *yet, did("swap", "U50"), *READ, *yet))


def test_a_lot_that_cannot_be_read_is_not_asked_for_for_ever():
    failed = run("fail", "cold", channel="B0", line=13)
    shop = {"lots": [{"lot": "K4471", "failed": 9, "of": 24}]}
    so_far: list[Entry] = [{"symptom": ["artefacts"]}, *READ, {"power": "computer"}, {"rung": "picture"}, failed]
    assert first(*so_far, {"looked": "U13"}, shop=shop) == ("mark", "U13")


def test_a_board_that_nobody_has_drawn_is_read_before_it_is_powered():
    assert first(DEAD, LOOKED, board=None) == ("read", "slot 12 V")
    assert ("run", "cold") not in steps(told(DEAD, read("PL1", "5k"), board=None))
    shorted: list[Entry] = [DEAD, LOOKED, read("PL1", "0R4")]
    assert first(*shorted, board=None)[0] in {"inject", "read"}
    assert ("inject", "PL1") in steps(told(*shorted, board=None))
    fed = {"injected": {"point": "PL1", "volts": 0.5, "amps": 1.2}}
    assert ("glow", "PL1") in steps(told(*shorted, fed, board=None))


def test_the_same_facts_give_the_same_steps_whatever_screen_entered_them():
    """Entries of different rooms that do not touch each other may come in any order."""
    apart = [LOOKED, *READ, *RAILS]
    backwards = [*RAILS, *READ, LOOKED]
    assert steps(told(DEAD, *apart)) == steps(told(DEAD, *backwards))


@pytest.mark.parametrize("check", ["clocks", "sensors"])
def test_clocks_that_stay_low_and_figures_that_cannot_be_lead_to_the_sense_paths(check):
    board = read_board((BOARDS / "scaup-24.board.json").read_bytes())
    done: list[Entry] = [{"symptom": ["slow"]}, LOOKED, *GOOD_INPUTS, did("swap", "U71"), *GOOD_INPUTS]
    tested = [{"power": "computer"}, *DONE, {"checked": {"check": check, "passed": False}}]
    found = steps(told(*done, *tested, board=board))
    ends = {"PA", "PB", "C2", "C8", "U60.1", "U60.2"}
    assert ends <= {target for do, target in found if do == "read"}
    read_since = read("U60.2", "3.4", "voltage")
    assert "U60.2" not in {
        target for do, target in steps(told(*done, *tested, read_since, board=board)) if do == "read"
    }


# The input is pulled down to 110 ohm, over the guard's limit; across the first stage's pins it reads joined.
PULLED = [read("L1", "110"), *READ[1:], *RAILS]
JOINED: list[Entry] = [DEAD, LOOKED, *PULLED, read("L1/L4", "0R2")]


def test_no_power_while_a_stage_reads_joined_though_its_input_is_above_the_guard():
    assert facts(*JOINED).allowed
    found = told(*JOINED)["next"]
    assert {entry["do"] for entry in found} & {"remove", "swap", "lift-coil", "look"}
    assert not [entry for entry in found if entry["do"] in {"power", "draw", "rung", "run"} or entry["step"] == "volts"]
    assert any(entry["do"] == "power" for entry in told(*JOINED[:-1], read("L1", "4k2"))["next"])


def test_a_lifted_coil_is_followed_by_the_input_that_was_pulled_down_and_convicts_its_stage():
    lifted: list[Entry] = [*JOINED, {"looked": "U71"}, {"looked": "U72"}, did("lift-coil", "L4"), read("L4", "0R6")]
    assert first(*lifted) == ("read", "L1")
    assert first(*lifted, read("L1", "1k4")) == ("swap", "U71")
    assert first(*lifted, read("L1", "112")) != ("swap", "U71")


@pytest.mark.parametrize(("coil", "most"), [("L4", 1.0), (None, 12.0)])
def test_a_stage_whose_coil_is_lifted_is_not_proven_apart_and_no_more_than_a_volt_is_fed(coil, most):
    pairs = [read(f"L1/{point}", "4k0") for point in ("L2", "L3", "L4", "L5")]
    partial: list[Entry] = [DEAD, LOOKED, read("L1", "1k4"), *READ[1:], *RAILS]
    lifted = [did("lift-coil", coil), *RAILS, read("L1", "1k4"), read("C41", "700"), *pairs] if coil else pairs
    assert feeding(facts(*partial, *lifted), "in12").most_v <= most
    assert feeding(facts(*partial, *lifted), "in12").advice.volts <= most
    assert (feeding(facts(*partial, *lifted), "in12").advice.volts > 1) == (coil is None)


def test_where_it_warms_again_after_the_part_was_replaced_the_layers_are_burnt():
    fed: Entry = {"injected": {"point": "L4", "volts": 0.5, "amps": 2.5}}
    low = [*READ, read("L2", "160"), read("L3", "40"), read("L4", "0R2")]
    swapped: list[Entry] = [did("swap", "U71"), *READ, read("L4", "0R5")]
    again: list[Entry] = [DEAD, LOOKED, *low, fed, glow("U71"), *swapped, fed, glow("U71")]
    best = told(*again)["causes"][0]
    assert (best["cause"], best["designators"]) == ("layers", ["U71"])
    assert first(*again) == ("remove", "U71")
    # two leads cannot tell a short from so low a rail: what it reads with the part off clears nothing
    off: list[Entry] = [*again, did("remove", "U71"), *READ, read("L4", "0R6")]
    assert first(*off) == ("cut-layers", "U71")
    cut = told(*off, did("cut-layers", "U71"))["next"]
    assert not [entry for entry in cut if entry["target"] == "U71"]


def test_what_does_not_settle_and_has_no_good_card_is_fed_before_the_card_is_given_up():
    unsettled = {"reading": {"point": "L2", "quantity": "resistance", "value": "4..9", "unit": "ohm", "mode": "ohms"}}
    case = case_from(case_document("grebe-4", [DEAD, LOOKED, *READ, *RAILS[1:], unsettled]), BOARD)
    found = plan(Facts(case, BOARD, (), None))
    fed = [step for step in found if step.do == "inject" or "/L2" in step.target]
    assert fed
    assert "did not settle" in fed[0].why
    assert fed[0] != found[0]


SNOW: Entry = {"symptom": ["artefacts"]}
NOT_LISTED: list[Entry] = [SNOW, LOOKED, *READ, {"power": "computer"}, {"rung": "absent"}]
LIVE = [read("L1", "12", "voltage"), read("C41", "3.3", "voltage"), read("T1", "3.3", "voltage")]


def test_a_card_that_no_computer_lists_does_not_come_up_whatever_its_owner_saw():
    found = steps(told(*NOT_LISTED, *LIVE, read("L2", "0.02", "voltage")))
    # the missing rail is read cold before anything on it is blamed; nobody read it, since the card was said to come up
    assert found[:2] == [("power", "off"), ("read", "L2")]
    off: list[Entry] = [*NOT_LISTED, *LIVE, read("L2", "0.02", "voltage"), {"power": "off"}]
    assert first(*off, read("L2", "0R4")) == ("inject", "L2")
    assert first(*off, read("L2", "160")) == ("look", "U50")


def test_a_rail_that_is_blamed_for_what_hangs_on_it_is_read_before_its_converter_is_replaced():
    below = [*LIVE, read("L3", "0.02", "voltage"), {"looked": "U50"}]
    assert first(*NOT_LISTED, *below) == ("read", "L2")
    assert steps(told(*NOT_LISTED, *below, read("L2", "0.02", "voltage")))[:2] == [("power", "off"), ("read", "L2")]
    cold: list[Entry] = [
        *NOT_LISTED,
        *below,
        {"power": "off"},
        read("L2", "160"),
        read("L3", "40"),
        {"power": "supply"},
    ]
    found = steps(told(*cold))
    assert ("read", "L2") in found
    assert ("swap", "U50") not in found[: found.index(("read", "L2"))]


def test_a_card_that_runs_and_draws_too_much_has_its_rails_read():
    runs = [{"power": "computer"}, {"rung": "3d"}, run("pass", "cold"), run("pass", "warm"), run("pass", "flexed")]
    wrong: Entry = {"checked": {"check": "current", "passed": False}}
    trial: Entry = {"trial": {"changed": "computer", "shows": True}}
    so_far: list[Entry] = [SNOW, LOOKED, *READ, *runs, trial]
    assert not {("read", "L2"), ("read", "L3")} & set(steps(told(*so_far)))
    found = steps(told(*so_far, wrong, wrong, wrong))
    assert ("read", "L2") in found
    assert ("return", "no-fix") not in found[: found.index(("read", "L2"))]


def test_a_part_that_was_put_back_is_no_other_part_and_its_layers_are_not_cut():
    fed: Entry = {"injected": {"point": "L4", "volts": 0.5, "amps": 2.5}}
    low = [*READ, read("L2", "160"), read("L3", "40"), read("L4", "0R2")]
    off: list[Entry] = [DEAD, LOOKED, *low, fed, glow("U71"), did("remove", "U71"), *READ, read("L4", "0R2")]
    back: list[Entry] = [*off, did("place", "U71"), *READ, read("L4", "0R2"), fed, glow("U71")]
    assert ("cut-layers", "U71") not in steps(told(*back))
    assert told(*back)["causes"][0]["cause"] != "layers"


def test_a_rail_that_rose_manyfold_when_a_part_came_off_had_two_shorts_and_the_part_is_not_put_back():
    fed: Entry = {"injected": {"point": "L1", "volts": 0.5, "amps": 1.8}}
    off: list[Entry] = [DEAD, LOOKED, *SHORT, *RAILS, fed, glow("C2"), did("remove", "C2")]
    two: list[Entry] = [*off, read("L1", "263"), fed, glow("C1"), did("remove", "C1"), read("L1", "4k2")]
    found = steps(told(*two))
    assert ("swap", "C2") in found
    assert ("place", "C2") not in found
    innocent: list[Entry] = [*off, read("L1", "0R41"), fed, glow("C1"), did("remove", "C1"), read("L1", "4k2")]
    assert ("place", "C2") in steps(told(*innocent))


def test_the_core_waits_for_a_chip_only_where_the_chip_may_well_be_it():
    failed = run("fail", "cold", channel="B0", line=13)
    so_far: list[Entry] = [{"symptom": ["artefacts"]}, *READ, {"power": "computer"}, {"rung": "picture"}, failed]
    marked: list[Entry] = [*so_far, {"answered": {"do": "mark", "answer": "U13"}}]
    found = [step for step in steps(told(*marked)) if step[0] in {"reball", "swap"}]
    assert found == [("reball", "U13"), ("swap", "U13"), ("reball", "U1")]


def test_a_shop_that_goes_by_the_numbers_has_no_school():
    failed = run("fail", "cold", channel="B0", line=13)
    marked: list[Entry] = [SNOW, *READ, {"power": "computer"}, {"rung": "picture"}, failed]
    case = case_from(case_document("grebe-4", [*marked, {"answered": {"do": "mark", "answer": "U13"}}]), BOARD)
    found = {
        school: next(step.do for step in plan(Facts(case, BOARD, KNOWN, Shop(school=school))) if step.target == "U13")
        for school in ("by-numbers", "reball-first", "")
    }
    # another chip cures a little more for its minutes and its price, which is no reason to leave a school
    assert found == {"by-numbers": "swap", "reball-first": "reball", "": "reball"}


def test_a_chip_counts_at_what_the_shop_pays_for_one():
    failed = run("fail", "cold", channel="B0", line=13)
    marked: list[Entry] = [SNOW, *READ, {"power": "computer"}, {"rung": "picture"}, failed]
    case = case_from(case_document("grebe-4", [*marked, {"answered": {"do": "mark", "answer": "U13"}}]), BOARD)
    shops = {minutes: Shop(school="by-numbers", part_minutes=minutes) for minutes in (0.0, 300.0)}
    first = {
        minutes: next(step.do for step in plan(Facts(case, BOARD, KNOWN, shop)) if step.target == "U13")
        for minutes, shop in shops.items()
    }
    assert first == {0.0: "swap", 300.0: "reball"}


ARTEFACTS: list[Entry] = [{"symptom": ["artefacts"]}, *READ, *RAILS, {"power": "computer"}]
# one line fails, so U13 comes off, and the rail that it hangs on is read again
U13_OFF: list[Entry] = [run("fail", "cold", channel="B0", line=13), {"power": "off"}, did("remove", "U13"), RAILS[1]]
CORE_OFF: list[Entry] = [{"power": "off"}, did("remove", "U1"), *RAILS[1:]]


def surveyed(site, verdict):
    return {"pads": {"site": site, "verdict": verdict}}


def test_below_a_chip_that_came_off_the_pads_are_surveyed_before_anything_goes_back():
    off = [*ARTEFACTS, *U13_OFF]
    found = told(*off)
    assert steps(found)[0] == ("pads", "U13")
    assert {("reball", "U13"), ("swap", "U13")} <= set(steps(found)[1:3])
    assert not any("short" in entry["why"] for entry in found["next"])
    good = told(*off, surveyed("U13", "good"))
    assert steps(good)[:2] == [("reball", "U13"), ("swap", "U13")]
    fixable = told(*off, surveyed("U13", "fixable"))
    assert "are repaired first" in fixable["next"][0]["why"]
    assert first(*off, surveyed("U13", "donor")) == ("return", "donor")
    assert not {("place", "U13"), ("swap", "U13")} & set(steps(told(*off, surveyed("U13", "donor"))))


def test_a_card_with_a_chip_in_the_hand_is_not_called_repaired():
    off = told(*ARTEFACTS, *U13_OFF, surveyed("U13", "good"))
    assert [cause["cause"] for cause in off["causes"]] == ["unknown"]
    back = told(*ARTEFACTS, *U13_OFF, did("reball", "U13"), did("place", "U13"), RAILS[1])
    assert back["causes"][0]["cause"] == "none"


def test_a_chip_with_new_balls_goes_back_and_what_comes_off_again_is_surveyed_anew():
    off = [*ARTEFACTS, *U13_OFF, surveyed("U13", "good")]
    balled = [*off, did("reball", "U13"), RAILS[1]]
    assert first(*balled) == ("place", "U13")
    again = [*balled, did("place", "U13"), *U13_OFF[1:]]
    assert first(*again) == ("pads", "U13")


def test_a_chip_that_was_reballed_in_vain_and_came_off_again_is_replaced():
    failed = run("fail", "cold", channel="B0", line=13)
    again = [did("reball", "U13"), RAILS[1], {"power": "computer"}, failed, *U13_OFF[1:], surveyed("U13", "good")]
    assert first(*ARTEFACTS, failed, {"power": "off"}, *again) == ("swap", "U13")


def test_a_core_that_came_off_is_reballed_and_never_swapped_for_a_short_that_was_none():
    found = told(*ARTEFACTS, *CORE_OFF)
    assert steps(found)[0] == ("pads", "U1")
    assert ("swap", "U1") not in steps(found)
    assert first(*ARTEFACTS, *CORE_OFF, surveyed("U1", "good")) == ("reball", "U1")


def test_a_chip_that_took_a_short_with_it_is_replaced_once_its_pads_are_surveyed():
    short = [DEAD, LOOKED, *READ, RAILS[0], read("L3", "0R4"), RAILS[2], did("remove", "U13"), RAILS[1]]
    found = told(*short)
    assert steps(found)[:2] == [("pads", "U13"), ("swap", "U13")]
    assert "short left with U13" in found["next"][1]["why"]
    assert first(*short, surveyed("U13", "fixable")) == ("swap", "U13")
    assert ("swap", "U13") not in steps(told(*short, surveyed("U13", "donor")))


@pytest.mark.parametrize("site", ["U1", "U11", "U13"])
def test_without_core_or_a_chip_it_is_not_put_into_a_computer(site):
    off = [*ARTEFACTS, {"power": "off"}, did("remove", site), *RAILS[1:]]
    for entry in told(*off)["next"]:
        assert (entry["do"], entry["target"]) != ("power", "computer")
        assert entry["do"] not in {"rung", "run"}
