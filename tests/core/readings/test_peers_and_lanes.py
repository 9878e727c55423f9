"""Odd chips found on simulated tables, clean ones left alone; lanes against a slow, plain judgement."""

from __future__ import annotations

import math
import random
import statistics
from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from uvrix.core.errors import Refusal
from uvrix.core.readings.balls import Kinds, judge_balls
from uvrix.core.readings.lanes import link, read_lanes
from uvrix.core.readings.notation import OL, Value
from uvrix.core.readings.peers import Compared, among, as_json, chip_and_pin, odd_ones
from uvrix.core.readings.reading_file import Reading


def table(dice, *, odd):
    """Chips of one kind, pins decades apart; some pins odd on one chip, some on two that share a line, some open."""
    chips = [f"U{number}" for number in range(11, 11 + dice.randint(4, 12))]
    diode = dice.random() < 0.5
    spread = dice.uniform(0.003, 0.02)
    readings, truth = [], {}
    for pin in (f"{row}{column}" for row in "ABCDEF" for column in range(1, 9)):
        usual = dice.uniform(0.25, 0.7) if diode else 10 ** dice.uniform(0.5, 6)
        values = {
            chip: usual + dice.gauss(0, 0.003) if diode else usual * (1 + dice.gauss(0, spread)) for chip in chips
        }
        if odd and dice.random() < 0.15:
            many = 2 if len(chips) > 5 and dice.random() < 0.3 else 1
            strange = dice.sample(chips, many)
            if many == 1 and dice.random() < 0.3:
                values[strange[0]] = None
            else:
                other = usual + dice.choice([-0.12, 0.09, 0.2]) if diode else usual * dice.choice([0.05, 0.4, 2.5, 30])
                values |= dict.fromkeys(strange, other)
            truth[pin] = frozenset(strange)
        for chip, value in values.items():
            read = Value(value, value)
            readings.append(
                Reading(f"{chip}.{pin}", "diode", read, "diode", "ground")
                if diode
                else Reading(f"{chip}.{pin}", "resistance", read, "ohms", "ground")
            )
    return readings, truth


def test_odd_chips_are_found_and_clean_tables_left_alone():
    dice = random.Random(91_125)
    sought = found = wrong = 0
    for _ in range(60):
        readings, truth = table(dice, odd=True)
        said = {odd_chip.pin: frozenset(odd_chip.chips) for odd_chip in odd_ones(readings).odd}
        sought += len(truth)
        found += sum(said.get(pin) == chips for pin, chips in truth.items())
        wrong += len(set(said) - set(truth))
    alarms = sum(bool(odd_ones(table(dice, odd=False)[0]).odd) for _ in range(20))
    print(f"peers: {found / sought:.4f} of {sought} odd pins found, {wrong} wrong, {alarms} of 20 clean tables alarmed")
    assert found / sought >= 0.97
    assert alarms <= 1


def test_chips_that_share_the_odd_value_share_a_line():
    values = {"U11": 514, "U12": 33, "U13": 515, "U14": 516, "U15": 33.4, "U16": 515}
    read = [Reading(f"{chip}.B3", "resistance", Value(v, v), "ohms", "ground") for chip, v in values.items()]
    [one] = odd_ones(read).odd
    assert (set(one.chips), one.shared, one.peers) == ({"U12", "U15"}, True, 515)


@pytest.mark.parametrize("name", ["U13A1", ".A1", "U13.", "U13.A1/U14.A1", ""])
def test_a_name_that_is_not_chip_and_pin_is_refused(name):
    with pytest.raises(Refusal, match=r"CHIP\.PIN"):
        chip_and_pin(name)


VOLTS = st.one_of(
    st.just("OL"), st.sampled_from(["0.02", "0.049", "0.05", "0.2"]), st.integers(300, 420).map(lambda mv: f"0.{mv}")
)


@given(st.lists(st.tuples(VOLTS, VOLTS, VOLTS, VOLTS), min_size=16, max_size=16))
def test_lanes_are_judged_as_the_contract_says(rows):
    halves = [(pair, half) for pair in ("tx", "rx") for half in "pn"]
    text = "lane,pair,half,diode_v\n" + "".join(
        f"{lane},{pair},{half},{value}\n"
        for lane, row in enumerate(rows)
        for (pair, half), value in zip(halves, row, strict=True)
    )
    found = link(read_lanes(text.encode()))
    counted = [0, 1, 2, 3]
    if all(row[0] == row[1] == "OL" for row in rows):
        counted = [2, 3]
        assert found.warnings
    usual = {}
    for at in counted:
        left = [Decimal(row[at]) for row in rows if row[at] != "OL" and Decimal(row[at]) >= Decimal("0.05")]
        usual[at] = statistics.median(left) if left else Decimal(0)
    plain = []
    for row in rows:
        cells = [row[at] for at in counted]
        if "OL" in cells:
            plain.append("open")
        elif any(Decimal(cell) < Decimal("0.05") for cell in cells):
            plain.append("short")
        else:
            fits = [abs(Decimal(row[at]) - usual[at]) <= usual[at] / 4 for at in counted]
            plain.append("works" if all(fits) else "odd")
    assert [found.lanes[lane] for lane in range(16)] == plain
    widths = []
    for order in (plain, plain[::-1]):
        run = next((at for at, word in enumerate(order) if word != "works"), 16)
        widths.append(max([width for width in (16, 8, 4, 2, 1) if width <= run], default=0))
    assert found.width == max(widths)
    assert found.start == (0 if widths[0] >= widths[1] else 15)


@pytest.mark.parametrize(
    ("row", "found"),
    [
        ("16,rx,p,0.4", '"16"'),
        ("0,ux,p,0.4", '"ux"'),
        ("0,rx,q,0.4", '"q"'),
        ("0,rx,p,x", '"x"'),
        ("-1,rx,p,0.4", '"-1"'),
    ],
)
def test_a_lane_that_does_not_fit_is_refused_by_its_line(row, found):
    with pytest.raises(Refusal) as refused:
        read_lanes(f"lane,pair,half,diode_v\n1,rx,p,0.4\n{row}\n".encode())
    assert (refused.value.place, refused.value.found) == ("3", found)


def test_a_lane_that_was_not_read_whole_does_not_count_as_working():
    text = "lane,pair,half,diode_v\n" + "".join(
        f"{lane},{pair},{half},0.4\n"
        for lane in range(8)
        for pair in ("tx", "rx")
        for half in "pn"
        if (lane, half) != (3, "n")
    )
    found = link(read_lanes(text.encode()), 8)
    assert (found.width, found.start) == (4, 7)
    assert "Lane 3 was not read whole" in found.warnings[0]


@pytest.mark.parametrize(
    ("first", "second", "agree"),
    [
        ("0.400", "0.415", True),  # within 20 mV
        ("0.400", "0.4215", False),  # beyond 20 mV and beyond 5 %
        ("0.600", "0.628", True),  # beyond 20 mV, within 5 %
        ("OL", "OL", True),
        ("OL", "0.4", False),
        ("0.4", "OL", False),
    ],
)
def test_a_half_read_twice_must_agree_and_the_later_one_counts(first, second, agree):
    text = f"lane,pair,half,diode_v\n3,rx,p,{first}\n\n# again\n3,rx,p,{second}\n".encode()
    if agree:
        [value] = read_lanes(text)[3].values()
        assert value == read_lanes(f"lane,pair,half,diode_v\n3,rx,p,{second}\n".encode())[3]["rx", "p"]
        return
    with pytest.raises(Refusal, match="of line 2") as refused:
        read_lanes(text)
    assert refused.value.place == "5"
    assert refused.value.found.endswith("for lane 3 rx p")


def test_where_nothing_was_read_it_says_so_once():
    found = link({}, 4)
    assert (dict(found.lanes), found.width, found.warnings) == ({}, 0, ())
    assert found.why == "Nothing was read: which lanes work is not known."


def test_lanes_that_were_not_read_are_said_together():
    whole = {(pair, half): Value(0.4, 0.4) for pair in ("rx", "tx") for half in ("p", "n")}
    found = link({0: whole, 1: whole, 4: whole, 9: whole})
    assert found.warnings == (
        "Lanes 2, 3, 5 to 8 and 10 to 15 were not read: what is not read does not count as working.",
    )
    assert found.width == 2
    one = link(dict.fromkeys(range(15), whole))
    assert one.warnings == ("Lane 15 was not read: what is not read does not count as working.",)


def peers_of(quantity="resistance", mode="ohms", **values):
    return odd_ones([Reading(f"{chip}.B3", quantity, Value(v, v), mode, "ground") for chip, v in values.items()]).odd


def test_a_pin_that_is_open_on_most_chips_makes_the_closed_one_odd():
    found = peers_of(U11=None, U12=None, U13=None, U14=48.0, U15=None)
    assert [(entry.chips, entry.value, entry.peers, entry.shared) for entry in found] == [(("U14",), 48.0, None, False)]


def test_half_open_half_closed_and_two_chips_alone_tell_nothing():
    assert peers_of(U11=None, U12=None, U13=50.0, U14=51.0) == ()
    assert peers_of(U11=50.0, U12=5000.0) == ()


@given(st.floats(0.5, 10**6), st.integers(4, 10), st.floats(0.95, 1.05))
def test_chips_that_a_meter_cannot_tell_apart_are_never_odd(usual, many, share):
    values = {f"U{10 + at}": usual for at in range(many)} | {"U99": usual * share}
    assert peers_of(**values) == ()


@given(st.permutations([f"U{at}" for at in range(11, 19)]), st.sampled_from([0.02, 0.3, 3.0, 40.0]))
def test_the_order_of_the_file_and_the_names_of_the_chips_change_nothing(order, share):
    values = dict.fromkeys(order, 500.0) | {order[2]: 500.0 * share}
    [found] = peers_of(**values)
    assert (found.chips, found.peers) == ((order[2],), 500.0)
    assert found.value == pytest.approx(500.0 * share)


def splits(values, quantity="resistance", mode="ohms"):
    read = [Reading(f"U{11 + n}.B3", quantity, Value(v, v), mode, "ground") for n, v in enumerate(values)]
    return odd_ones(read)


@pytest.mark.parametrize(
    ("values", "quantity", "mode", "split"),
    [
        ((800, 810, 4.7e6, 4.6e6), "resistance", "ohms", True),
        ((800, 4.7e6, 4.6e6, 790), "resistance", "ohms", True),
        ((800, 810, None, None), "resistance", "ohms", True),
        ((800, 810, 805, None, None), "resistance", "ohms", True),
        # fivefold, and not quite
        ((100, 100, 500, 500), "resistance", "ohms", True),
        ((100, 100, 499, 499), "resistance", "ohms", False),
        # two fifths, and fewer
        ((100, 101, 102, 900, 905), "resistance", "ohms", True),
        ((100, 101, 102, 103, 900, 905), "resistance", "ohms", False),
        # one alone is odd, three are too few
        ((100, 101, 102, 900), "resistance", "ohms", False),
        ((100, 900, 905), "resistance", "ohms", False),
        # groups that are not alike within themselves
        ((100, 180, 4.7e6, 4.6e6), "resistance", "ohms", False),
        ((0.400, 0.405, 0.450, 0.455), "diode", "diode", True),
        ((0.400, 0.405, 0.440, 0.445), "diode", "diode", False),
        ((0.400, 0.400, 0.450, 0.450), "diode", "diode", True),
    ],
)
def test_fellows_in_two_groups_are_all_suspects_and_none_is_odd(values, quantity, mode, split):
    read = [
        Reading(f"U{11 + n}.B3", quantity, Value(v, v) if v is not None else OL, mode, "ground")
        for n, v in enumerate(values)
    ]
    found = odd_ones(read)
    assert bool(found.split) == split
    if split:
        assert found.odd == ()
        [one] = found.split
        assert sorted(one.chips) == sorted(f"U{11 + n}" for n in range(len(values)))
        assert len(one.groups[0][1]) >= len(one.groups[1][1])
        assert "B3" in one.why
        assert one.groups[1][1][0] in one.why


@given(st.permutations(range(5)), st.integers(0, 2**32))
def test_a_split_does_not_depend_on_the_order_of_the_chips(order, seed):
    rng = random.Random(seed)
    values = [1000 * rng.uniform(0.97, 1.03) for _ in range(3)] + [90 * rng.uniform(0.97, 1.03) for _ in range(2)]
    read = [Reading(f"U{n}.A1", "resistance", Value(values[n], values[n]), "ohms", "ground") for n in order]
    [one] = odd_ones(read).split
    assert [set(chips) for _, chips in one.groups] == [{"U0", "U1", "U2"}, {"U3", "U4"}]
    kinds = Kinds({}, {})
    assert {judged.verdict for judged in judge_balls(read, kinds)} == {"no-reference"}
    assert all("two groups" in judged.why for judged in judge_balls(read, kinds))


@pytest.mark.parametrize(
    ("values", "said", "smaller"),
    [
        ((100.0, 100.0, None, None), "U11 and U12 read 100 Ω; U13 and U14 read OL", "U13"),
        ((900.0, 100.0, 900.0, 100.0, 900.0), "U11, U13 and U15 read 900 Ω; U12 and U14 read 100 Ω", "U12"),
    ],
)
def test_two_groups_are_said_with_their_chips(values, said, smaller):
    found = splits(values)
    [split] = found.split
    assert split.why.startswith(f"At B3 {said}: two groups, and neither is the odd one.")
    assert f"Lift {smaller} first" in split.why
    groups = [{"value": "OL" if v is None else v, "chips": list(chips)} for v, chips in split.groups]
    assert as_json(found) == {"odd": [], "split": [{"pin": "B3", "groups": groups, "why": split.why}]}


def test_half_of_them_over_limit_says_nothing_of_the_other_half():
    assert splits((100.0, 200.0, None, None)) == Compared((), ())


@pytest.mark.parametrize(("far", "odd"), [(7.413, ()), (7.4131, ("g",))])
def test_five_of_the_spreads_by_which_fellows_differ(far, odd):
    """A median distance of one is a spread of 1.4826."""
    values = {"a": -1.0, "b": -1.0, "c": -1.0, "d": 0.0, "e": 1.0, "f": 1.0, "g": far}
    found = among(values, "current")
    assert found
    assert tuple(found.odd) == odd


def test_what_a_meter_cannot_tell_from_nothing_counts_as_a_tenth_of_what_it_repeats():
    """0.015 ohm: five spreads of these fellows are a little more than from there to 0.2 ohm."""
    apart = math.exp(0.356)
    found = among({"a": 0.0, "b": 0.2 / apart, "c": 0.2, "d": 0.2, "e": 0.2 * apart}, "resistance")
    assert found
    assert not found.odd


def test_a_quantity_that_no_meter_repeats_worse_has_no_floor():
    table = splits((0.1, 0.1, 0.1, 0.1, 0.1, 0.6, 1.2), "current", "")
    assert [(odd.chips, odd.value) for odd in table.odd] == [(("U16",), 0.6), (("U17",), 1.2)]


def test_lanes_are_left_out_by_their_tx_halves_alone():
    closed, over = Value(0.4, 0.4), OL
    for pair, width in (("tx", 16), ("rx", 0)):
        halves = {(one, half): over if one == pair else closed for one in ("tx", "rx") for half in ("p", "n")}
        found = link(dict.fromkeys(range(16), halves))
        assert (found.width, any("All tx halves are OL" in said for said in found.warnings)) == (width, pair == "tx")


@pytest.mark.parametrize(("lane", "fits"), [("015", True), ("0015", False), ("00015", False)])
def test_a_lanes_number_has_three_digits_at_most(lane, fits):
    text = f"lane,pair,half,diode_v\n{lane},rx,p,0.4\n".encode()
    if fits:
        assert list(read_lanes(text)) == [15]
        return
    with pytest.raises(Refusal, match="a lane from 0 to 15"):
        read_lanes(text)
