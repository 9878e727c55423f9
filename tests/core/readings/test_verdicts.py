"""Verdicts on simulated shops: right in 97 of 100, no healthy rail called short; each rule of the contract."""

from __future__ import annotations

import math
import random
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from uvrix.core.errors import Refusal
from uvrix.core.readings.known import Library
from uvrix.core.readings.notation import Value, parse_value
from uvrix.core.readings.points import places_of
from uvrix.core.readings.reading_file import Observation, Reading, read_known, read_readings
from uvrix.core.readings.verdict import judge

RAILS = [f"r{number}" for number in range(12)]
PLACES = places_of(
    {
        "rails": [{"id": rail, "points": [f"L-{rail}"]} for rail in RAILS],
        "points": [*({"id": f"L-{rail}", "kind": "coil"} for rail in RAILS), {"id": "F1", "kind": "fuse"}],
        "startup": {"nodes": [{"id": "node", "point": "TP1"}]},
    }
)


def reading(point, value, quantity="resistance", mode="ohms", **more):
    parsed = value if isinstance(value, Value) else parse_value(value, quantity)
    return Reading(point, quantity, parsed, mode, more.pop("to", PLACES.usual_to(point)), **more)


def known(point, *values, board="teal-8", **more):
    return [Observation(board, f"card {number}", reading(point, value, **more)) for number, value in enumerate(values)]


def verdict(point, value, observations, boards=("teal-8",), **more):
    return judge(reading(point, value, **more), Library(observations, PLACES), boards)


def value(ohms):
    return Value(ohms, ohms)


def simulated_shop(dice):
    """A model with rails far apart, a library of 1 to 30 cards with 3 % wrong entries, and what a card truly has."""
    truth = {rail: 10 ** dice.uniform(-0.3, 4.3) for rail in RAILS}
    cards, spread = dice.randint(1, 30), dice.uniform(0.02, 0.07)
    entries = []
    for rail, centre in truth.items():
        for card in range(cards):
            wrong = dice.random() < 0.03
            read = centre * math.exp(dice.gauss(0, spread) + dice.gauss(0, 0.01))
            read *= dice.choice([0.1, 10, 1000, 0.3]) if wrong else 1
            entries.append(Observation("teal-8", f"card {card}", reading(rail, value(read))))
    return truth, spread, entries


def read_with(fault, centre, spread, dice):
    """What a meter reads of a rail with this fault; None where such a fault cannot be told from a healthy rail."""
    if fault == "within":
        return value(centre * math.exp(dice.gauss(0, spread) + dice.gauss(0, 0.01)))
    if fault == "short":
        return value(min(9.0, centre / 20) * dice.uniform(0.05, 0.9)) if centre / 20 > 0.06 else None
    if fault == "low":
        low = max(centre * dice.uniform(0.25, 0.45), centre / 20 * 1.1)
        return value(low) if centre - low > 0.1 else None
    if fault == "high":
        return value(centre * dice.uniform(2.5, 6) + 0.1)
    if fault == "open":
        return Value(None, None)
    return Value(centre * 0.1, centre * 0.4) if centre > 1 else None


def test_verdicts_on_simulated_shops_are_right():
    dice = random.Random(20_261_125)
    right = asked = healthy_short = 0
    for _ in range(150):
        truth, spread, entries = simulated_shop(dice)
        library = Library(entries, PLACES)
        for rail, centre in truth.items():
            fault = dice.choice(["within", "within", "short", "low", "high", "open", "partial-short"])
            read = read_with(fault, centre, spread, dice)
            if read is None:
                continue
            said = judge(reading(rail, read), library, ["teal-8"]).verdict
            asked += 1
            right += said == fault
            healthy_short += fault == "within" and said == "short"
    assert healthy_short == 0
    assert asked > 1200
    print(f"verdicts: {right / asked:.4f} right of {asked}")
    assert right / asked >= 0.97


def test_the_band_narrows_with_the_cards_and_says_how_few_they_are():
    few, many = known("r1", "100", "104"), known("r1", *[f"{95 + number % 11}" for number in range(30)])
    wide, narrow = verdict("r1", "101", few), verdict("r1", "101", many)
    assert wide.reference
    assert narrow.reference
    assert wide.reference.high / wide.reference.low > 1.3 * narrow.reference.high / narrow.reference.low
    assert "Only two good cards stand behind it" in wide.why
    assert "Only" not in narrow.why
    assert (wide.reference.cards, narrow.reference.cards) == (2, 30)


def test_a_wrong_entry_neither_moves_the_band_nor_stays_hidden():
    right = known("r1", "100", "103", "98", "101", "99", "102")
    spoiled = [*right, Observation("teal-8", "card x", reading("r1", "100k"))]
    before, after = verdict("r1", "101", right).reference, verdict("r1", "101", spoiled)
    assert after.verdict == "within"
    assert before
    assert after.reference
    assert after.reference.centre == pytest.approx(before.centre, rel=0.02)
    assert after.reference.odd == ("card x",)
    assert "card x stands out" in after.why


def test_a_core_rail_under_one_ohm_is_healthy_and_two_leads_cannot_call_it_short():
    core = known("r1", "0R29", "0R30", "0R31", "0R32")
    assert verdict("r1", "0R30", core).verdict == "within"
    dead = verdict("r1", "5m", core)
    assert dead.verdict == "low"
    assert "four wires" in dead.why


def test_fuses_are_read_across_and_never_short():
    fuse = known("F1", "0R04", "0R05", "0R04", "0R05")
    assert [verdict("F1", text, fuse).verdict for text in ("0R05", "OL", "0R6")] == ["within", "open", "high"]
    resistor = known("F1", "4k7", "4k7", "4k7")
    assert verdict("F1", "1", resistor).verdict == "low"


def test_spans_are_partial_shorts_below_and_unsteady_anywhere_else():
    rail = known("r1", "41", "42", "43", "44")
    assert [verdict("r1", text, rail).verdict for text in ("12..19", "12..42", "41..43", "100..200")] == [
        "partial-short", "unsteady", "unsteady", "unsteady",
    ]  # fmt: skip


def test_where_good_cards_are_open_over_limit_is_right():
    tx = known("r1", "OL", "OL", "OL", quantity="diode", mode="diode")
    assert verdict("r1", "OL", tx, quantity="diode", mode="diode").verdict == "within"
    assert verdict("r1", "450", tx, quantity="diode", mode="diode").verdict == "low"


def test_relatives_lend_only_where_the_model_has_no_card_and_it_is_said():
    relative = known("r1", "92", "95", "97", board="teal-12")
    lent = verdict("r1", "96", relative, boards=("teal-8", "teal-12"))
    assert (lent.verdict, lent.reference.board if lent.reference else "") == ("within", "teal-12")
    assert "Borrowed from the relative teal-12." in lent.why
    own = verdict("r1", "96", [*relative, *known("r1", "40", "41", "42")], boards=("teal-8", "teal-12"))
    assert own.verdict == "high"
    assert verdict("r1", "96", [], boards=("teal-8",)).verdict == "no-reference"


def test_other_modes_and_leads_lend_marked():
    ohms = known("r1", "100", "101", "102")
    assert "read in another mode" in verdict("r1", "100", ohms, mode="continuity").why
    red = known("r1", "100", "101", "102", polarity="red")
    assert "with the other lead on ground" in verdict("r1", "100", red, polarity="black").why
    assert "lead on ground" not in verdict("r1", "100", red, polarity="red").why


def test_a_point_of_a_rail_counts_for_the_rail():
    assert verdict("L-r1", "100", known("r1", "99", "100", "101")).verdict == "within"
    assert verdict("r1", "100", known("L-r1", "99", "100", "101")).verdict == "within"
    across = verdict("L-r1", "100", known("r1", "99", "100", "101"), to="across")
    assert across.verdict == "no-reference"


HEAD = "point,quantity,value,unit,mode,condition,note\n"


@pytest.mark.parametrize(
    ("rows", "line", "found"),
    [
        ("r1,resistance,42,V,ohms,,", "2", '"V"'),
        ("r1,resistance,42,ohm,diode,,", "2", '"diode"'),
        ("r1,weight,42,ohm,,,", "2", '"weight"'),
        ("r1,resistance,4x2,ohm,,,", "2", '"4x2"'),
        ("r1,resistance,42,ohm,,,\nnone,resistance,42,ohm,,,", "3", '"none"'),
        ("r1,resistance,42,ohm,ohms,cold,\nL-r1,resistance,12,ohm,ohms,cold,", "3", "12"),
        ("r1,resistance,42,ohm,ohms,,,,", "2", "9 fields"),
        ("r1,resistance,OL,ohm,ohms,,\nr1,resistance,12,ohm,ohms,,", "3", "12"),
    ],
)
def test_a_file_that_does_not_fit_is_refused_by_its_line(rows, line, found):
    with pytest.raises(Refusal) as refused:
        read_readings((HEAD + rows).encode(), PLACES)
    assert refused.value.place == line
    assert found in refused.value.found


def test_an_agreeing_later_reading_replaces_the_former():
    rows = "r1,resistance,42,ohm,ohms,cold,\nr2,resistance,1k,ohm,,,\nr1,resistance,42.1,ohm,ohms,cold,\n"
    found = read_readings((HEAD + rows).encode(), PLACES)
    assert [(candidate.point, candidate.value.low) for candidate in found] == [("r2", 1000), ("r1", 42.1)]
    warm = "r1,resistance,42,ohm,ohms,cold,\nr1,resistance,12,ohm,ohms,warm,\n"
    assert len(read_readings((HEAD + warm).encode(), PLACES)) == 2


def test_any_column_order_case_marks_and_comments_are_read():
    text = "\ufeff# from the bench\r\nUnit,VALUE,point,quantity\r\nohm,2k2,r1,resistance\r\n\r\n"
    assert read_readings(text.encode(), PLACES)[0].value.low == 2200
    observed = "board,card,point,quantity,value,unit,mode,meter\nteal-8,A,anything,diode,450,V,diode,one\n"
    assert read_known(observed.encode(), PLACES)[0].reading.value.low == 0.45


@given(st.binary(max_size=200))
def test_any_bytes_are_readings_or_a_refusal(data):
    try:
        read_readings(data, PLACES)
        read_known(data, PLACES)
    except Refusal as refusal:
        assert refusal.expected


def test_the_same_meter_stands_alone_where_its_cards_are_enough_else_others_lend():
    own, others = known("r1", "40", "41", "42", meter="one"), known("r1", "60", "62", "64", "66", meter="two")
    others = [Observation(other.board, f"other {other.card}", other.reading) for other in others]
    with_own = verdict("r1", "41", [*own, *others], meter="one")
    assert with_own.reference is not None
    assert (with_own.reference.cards, with_own.reference.lent) == (3, "")
    few = verdict("r1", "41", [*own[:2], *others], meter="one")
    assert few.reference is not None
    assert few.reference.cards == 6
    assert "read with another meter" in few.why
    nobody_says = verdict("r1", "41", [*own, *others])
    assert nobody_says.reference is not None
    assert nobody_says.reference.cards == 7


def test_every_card_behind_a_figure_is_named_with_what_it_read():
    found = verdict("r1", "41", [*known("r1", "40", "41", "42", "43"), *known("r1", "OL", board="teal-8")])
    assert found.reference is not None
    assert dict(found.reference.by_card)["card 3"] == 43.0
    open_one = [Observation("teal-8", "card 9", reading("r1", "OL"))]
    found = verdict("r1", "41", [*known("r1", "40", "41", "42"), *open_one])
    assert found.reference is not None
    assert dict(found.reference.by_card) == {"card 0": 40.0, "card 1": 41.0, "card 2": 42.0, "card 9": None}


def test_a_warm_card_is_said_to_be_warm():
    entries = known("r1", "40", "41", "42")
    assert "read warm" in verdict("r1", "41", entries, condition=frozenset({"warm"})).why
    assert "warm" not in verdict("r1", "41", entries).why


def band_of_a_hundred_ohms():
    """The library of six cards that read so, and the ends of its band."""
    library = Library(known("r1", *["100"] * 6), PLACES)
    found = judge(reading("r1", "100"), library, ["teal-8"]).reference
    assert found
    assert found.low is not None
    assert found.high is not None
    return library, found.low, found.high


def test_the_ends_of_the_band_are_accepted():
    library, low, high = band_of_a_hundred_ohms()
    for ohms, word in (
        *((low, "within"), (math.nextafter(low, 0.0), "low")),
        *((high, "within"), (math.nextafter(high, math.inf), "high")),
    ):
        assert judge(reading("r1", value(ohms)), library, ["teal-8"]).verdict == word


def test_what_jumps_up_to_the_band_is_unsteady_and_below_it_a_partial_short():
    library, low, _ = band_of_a_hundred_ohms()
    for high, word in ((low, "unsteady"), (math.nextafter(low, 0.0), "partial-short")):
        assert judge(reading("r1", Value(1.0, high)), library, ["teal-8"]).verdict == word


@pytest.mark.parametrize(("ohms", "word"), [(0.0, "within"), (-0.001, "low")])
def test_on_a_rail_that_low_the_band_tells_what_a_short_cannot(ohms, word):
    """Good cards read 0.05 ohm, as much as two leads tell apart: nothing at all is within."""
    said = verdict("r1", value(ohms), known("r1", *[value(0.05)] * 6))
    assert (said.verdict, "four wires" in said.why) == (word, True)


@pytest.mark.parametrize(
    ("name", "known", "pin"),
    [
        ("L-r1", True, False),
        ("r1", True, False),
        ("node", True, False),
        ("F1.1", True, False),
        ("F1.3", False, False),
        ("F1.", False, False),
        ("L-r1.1", False, False),  # a coil has no ends of a fuse
        ("U11.K3", True, True),
        ("U11.K9", False, False),
        ("U12.ANY", True, True),  # its pins are not known
        ("U12.", False, False),
        ("U12.TOOLONGFORAPIN", False, False),
        ("U13.K3", False, False),
        ("r1/r2", True, False),
        ("r1/U11.K3", True, False),
        ("r1/U11.K9", False, False),
        ("r1/r2/r3", False, False),
    ],
)
def test_the_names_that_a_reading_may_carry(name, known, pin):
    places = replace(PLACES, chips={"U11": frozenset({"K3"}), "U12": None})
    assert (places.known(name), places.is_pin(name)) == (known, pin)


@pytest.mark.parametrize(("name", "pin"), [("U13.K3", True), ("U.K3", False), ("13.K3", False), ("U13", False)])
def test_of_a_board_that_is_not_drawn_any_chip_may_be_read(name, pin):
    assert replace(PLACES, undrawn=True).is_pin(name) == pin
    assert not PLACES.is_pin(name)
    chips = replace(PLACES, undrawn=True, chips={"U13": frozenset({"A1"})})
    assert not chips.is_pin("U13.K3"), "its pins are known"


@pytest.mark.parametrize(
    ("name", "to", "key"),
    [
        ("L-r1", "ground", ("ground", "r1")),
        ("r1", "ground", ("ground", "r1")),
        ("node", "ground", ("ground", "node")),
        ("TP1", "ground", ("ground", "node")),
        ("TP2", "ground", ("ground", "TP2")),
        ("F1", "across", ("across", "F1")),
        ("r2/L-r1", "across", ("pair", "r1", "r2")),
        ("TP1/r1", "across", ("pair", "node", "r1")),
    ],
)
def test_what_a_reading_counts_for(name, to, key):
    assert PLACES.key(name, to) == key


def test_good_cards_that_are_open_say_so():
    reference = verdict("r1", "OL", known("r1", "OL", "OL", "OL")).reference
    assert reference
    assert reference.ol
    closed = verdict("r1", "100", known("r1", "100")).reference
    assert closed
    assert not closed.ol
