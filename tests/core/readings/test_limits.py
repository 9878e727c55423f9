"""Each threshold of the cold bench: what is said just inside it, on it and just outside, in figures on purpose."""

from __future__ import annotations

import math

import pytest

from tests.core.readings.test_verdicts import PLACES, known, reading, value, verdict
from uvrix.core.boards.document import board_from_document
from uvrix.core.errors import Refusal
from uvrix.core.readings import limits
from uvrix.core.readings.balls import Kinds, judge_balls, strangers
from uvrix.core.readings.beside import beside
from uvrix.core.readings.fuses import fuse_state, judge_fuse
from uvrix.core.readings.guard import below_guard
from uvrix.core.readings.hunt import bridges, coil_side, glowed, is_joined
from uvrix.core.readings.inject import injection
from uvrix.core.readings.known import Library
from uvrix.core.readings.lanes import link, read_lanes
from uvrix.core.readings.lifting import after_lifting
from uvrix.core.readings.morning import check_card, check_leads
from uvrix.core.readings.notation import Value
from uvrix.core.readings.peers import odd_ones
from uvrix.core.readings.reading_file import Reading, contradict
from uvrix.core.readings.sense import sense
from uvrix.core.readings.slips import slip
from uvrix.core.readings.slot import slot_context
from uvrix.core.readings.verdict import judge


def reference_of(reading, observations):
    """What good cards say of it; there are some."""
    found = judge(reading, Library(observations, PLACES), ["teal-8"]).reference
    assert found is not None
    return found


def good(centre, cards=6):
    """Good cards that all read the same: their middle is exactly that."""
    return known("r1", *[value(centre)] * cards)


@pytest.mark.parametrize(
    ("centre", "ohms", "word"),
    [
        # a twentieth of 100 ohms
        (100.0, 4.99, "short"),
        (100.0, 5.0, "low"),
        (100.0, 5.01, "low"),
        # never from ten ohms on, however high the rail
        (1e4, 9.99, "short"),
        (1e4, 10.0, "low"),
        (1e4, 10.01, "low"),
        # a twentieth below what two leads tell apart: they cannot say short
        (0.99, 0.001, "low"),
        (1.0, 0.049, "short"),
        (1.01, 0.049, "short"),
    ],
)
def test_short(centre, ohms, word):
    judged = verdict("r1", value(ohms), good(centre))
    assert judged.verdict == word
    assert ("four wires" in judged.why) == (centre < 1.0)


@pytest.mark.parametrize(
    ("centre", "volts", "word"),
    [
        (0.4, 0.0099, "short"),
        (0.4, 0.01, "low"),
        (0.4, 0.0101, "low"),
        (0.1, 0.0049, "short"),
        (0.1, 0.005, "low"),
        (0.1, 0.0051, "low"),
    ],
)
def test_short_in_diode_mode(centre, volts, word):
    library = known("r1", *[value(centre)] * 6, quantity="diode", mode="diode")
    assert verdict("r1", value(volts), library, quantity="diode", mode="diode").verdict == word


@pytest.mark.parametrize(("low", "high", "locked"), [(99.99, 99.99, True), (100.0, 100.0, False), (99.0, 9e3, True)])
def test_the_absolute_guard(low, high, locked):
    assert below_guard(reading("r1", Value(low, high))) == locked
    assert not below_guard(reading("r1", Value(low, high), to="across"))


@pytest.mark.parametrize(
    ("ohms", "state"),
    [(0.0, "good"), (0.29, "good"), (0.3, "good"), (0.301, "sick"), (999.0, "sick"), (1000.0, "blown")],
)
def test_a_sick_fuse(ohms, state):
    found = fuse_state(reading("F1", value(ohms)))
    assert found
    assert found.state == state


@pytest.mark.parametrize(
    ("one", "other", "state"),
    [
        # two parts in a hundred of the higher end …
        *((12.0, 11.76, "good"), (12.0, 11.75, "sick")),
        # … and fifty millivolts besides
        *((2.0, 1.95, "good"), (2.0, 1.949, "sick")),
        # a tenth of it
        *((12.0, 1.2, "sick"), (12.0, 1.19, "blown")),
        # below half a volt nothing is live
        *((0.5, 0.0, "blown"), (0.49, 0.0, "unread")),
    ],
)
def test_a_fuse_by_its_two_ends(one, other, state):
    for ends in ((one, other), (other, one)):
        read = [
            reading(f"F1.{end}", value(volts), quantity="voltage", mode="", to="ground")
            for end, volts in enumerate(ends, 1)
        ]
        assert judge_fuse("F1", read).state == state


def lanes_reading(volts, lane=5):
    """All halves at half a volt but one."""
    usual = {(pair, half): value(0.5) for pair in ("tx", "rx") for half in ("p", "n")}
    return link({number: {**usual, **({("rx", "p"): value(volts)} if number == lane else {})} for number in range(16)})


@pytest.mark.parametrize(
    ("volts", "word"),
    [
        *((0.049, "short"), (0.05, "odd"), (0.051, "odd")),
        *((0.374, "odd"), (0.375, "works"), (0.376, "works")),
        *((0.624, "works"), (0.625, "works"), (0.626, "odd")),
    ],
)
def test_lanes(volts, word):
    assert lanes_reading(volts).lanes[5] == word


@pytest.mark.parametrize(
    ("first", "second", "agree"),
    [
        *((1.0, 0.95, True), (1.0, 0.949, False)),  # a twentieth
        *((0.1, 0.12, True), (0.1, 0.1201, False)),  # twenty millivolts
    ],
)
def test_a_half_of_a_lane_read_twice(first, second, agree):
    text = f"lane,pair,half,diode_v\n3,rx,p,{first}\n3,rx,p,{second}\n".encode()
    if agree:
        assert read_lanes(text)[3]["rx", "p"] == value(second)
        return
    with pytest.raises(Refusal, match="of line 2"):
        read_lanes(text)


@pytest.mark.parametrize(
    ("halves", "word"),
    [
        *(((0.4, 0.301), "works"), ((0.4, 0.3), "works"), ((0.4, 0.299), "odd")),
        *(((0.051, 0.0501), "works"), ((0.05, 0.05), "works"), ((0.05, 0.0499), "short")),
    ],
)
def test_the_reference_clock(halves, word):
    read = {f"slot.{name}": value(volts) for name, volts in zip(("A13", "A14"), halves, strict=True)}
    assert slot_context(read, {}, (), 16).clock == word


@pytest.mark.parametrize(
    ("quantity", "one", "other", "apart"),
    [
        # 0.2 ohm where five parts in a hundred are less
        *(("resistance", 1.0, 1.2, False), ("resistance", 1.0, 1.21, True)),
        # five in a hundred where that is more
        *(("resistance", 95.0, 100.0, False), ("resistance", 94.9, 100.0, True)),
        *(("diode", 0.1, 0.12, False), ("diode", 0.1, 0.1201, True)),
        *(("voltage", 0.95, 1.0, False), ("voltage", 0.949, 1.0, True)),
        *(("voltage", 0.1, 0.12, False), ("voltage", 0.1, 0.1201, True)),
        *(("frequency", 95e6, 100e6, False), ("frequency", 94.9e6, 100e6, True)),
    ],
)
def test_readings_that_contradict_each_other(quantity, one, other, apart):
    first, second = (Reading("r1", quantity, value(number), "", "ground") for number in (one, other))
    assert contradict(first, second) == apart


@pytest.mark.parametrize(
    ("ohms", "by_ground", "joined"),
    [(0.99, 100.0, True), (1.0, 100.0, False), (0.49, 1.0, True), (0.5, 1.0, False), (0.51, 1.0, False)],
)
def test_a_joined_stage(ohms, by_ground, joined):
    assert is_joined(value(ohms), by_ground) == joined
    assert not is_joined(Value(None, None), by_ground)
    assert not is_joined(Value(ohms, 5.0), by_ground), "a span counts by its upper end"


@pytest.mark.parametrize(
    ("converter", "rail", "side"),
    [
        (1.0, 3.0, "converter"),
        (1.0, 2.99, "unclear"),
        (3.0, 1.0, "rail"),
        (2.99, 1.0, "unclear"),
        (0.0, 0.0, "unclear"),
    ],
)
def test_the_side_of_a_lifted_coil(converter, rail, side):
    assert coil_side("L1", value(converter), value(rail)).side == side


def a_board(parts=(), rails=(), points=(), **more):
    return board_from_document(
        {
            "format": "uvrix-board",
            "version": 1,
            "id": "plain",
            "name": "Plain",
            "outline_mm": [[0, 0], [200, 0], [200, 100], [0, 100]],
            "core": {"designator": "U1", "x_mm": 100, "y_mm": 50, "size_mm": [30, 30], "mark_corner": "top-left"},
            "sites": [{"designator": "U11", "side": "front", "x_mm": 60, "y_mm": 50}],
            "rails": [
                {"id": rail, "name": rail, "volts": volts, "points": [*listed]} for rail, volts, *listed in rails
            ],
            "points": [*points],
            "parts": [{"designator": name, "kind": kind, "side": "front", **entry} for name, kind, entry in parts],
            **more,
        }
    )


@pytest.mark.parametrize(
    ("upper", "lower", "alike"),
    [(10.0, 9.21, True), (10.0, 9.2, True), (10.0, 9.19, False), (0.5, 0.175, True), (0.5, 0.17, False)],
)
def test_two_rails_that_read_alike_are_bridged(upper, lower, alike):
    """To within 0.3 ohm and five parts in a hundred more."""
    board = a_board([("U2", "power-stage", {"x_mm": 1, "y_mm": 1, "rails": ["r1", "r2"]})], [("r1", 12), ("r2", 1)])
    library = Library([*known("r1", *[value(1e4)] * 6), *known("r2", *[value(1e4)] * 6)], PLACES)
    read = [judge(reading(rail, value(ohms)), library, ["teal-8"]) for rail, ohms in (("r1", upper), ("r2", lower))]
    assert bool(bridges(board, read, PLACES)) == alike


def test_parts_by_a_warm_spot():
    here = [(f"C{mm}", "capacitor", {"x_mm": 100 + mm, "y_mm": 50, "rails": ["r1"]}) for mm in (0, 4, 24.9, 25, 25.1)]
    near = glowed(a_board(here, [("r1", 12)]), "front", (100.0, 50.0), ["r1"])
    assert [candidate.part.designator for candidate in near] == ["C0", "C4", "C24.9", "C25"], "none from beyond 25 mm"
    assert near[1].chance / near[0].chance == pytest.approx(math.exp(-0.5)), "a blur of four millimetres"


@pytest.mark.parametrize(
    ("rail", "ohms", "lowest", "volts", "amps"),
    [
        # half a volt to start with, less on a lower rail or through a joined stage
        *((12.0, 0.1, None, 0.5, 3.87), (0.4, 0.1, None, 0.4, 3.87), (12.0, 0.1, 0.3, 0.3, 3.87)),
        # the current that shows one and a half watts, between half an ampere and five
        *((12.0, 0.06, None, 0.5, 5.0), (12.0, 0.0601, None, 0.5, 5.0), (12.0, 0.0625, None, 0.5, 4.9)),
        *((12.0, 6.0, None, 0.5, 0.5), (12.0, 5.9, None, 0.5, 0.5), (12.0, 5.0, None, 0.5, 0.55)),
        (12.0, 0.0, None, 0.5, 5.0),
    ],
)
def test_injection(rail, ohms, lowest, volts, amps):
    found = injection(rail, ohms, lowest)
    assert found.volts == volts
    assert found.amps_limit == pytest.approx(amps, abs=0.006)


@pytest.mark.parametrize(
    ("rail", "lowest", "most", "through"),
    [(12.0, None, "1", False), (12.0, 1.0, "1", False), (12.0, 0.99, "0.99", True), (0.8, 0.8, "0.8", False)],
)
def test_injection_says_what_it_may_reach(rail, lowest, most, through):
    said = " ".join(injection(rail, 0.1, lowest).cautions)
    assert f"Never above {most} V here." in said
    assert ("Through a joined stage" in said) == through


@pytest.mark.parametrize(("watts", "plausible"), [(66.0, True), (66.1, False), (-3.0, True), (-3.1, False)])
def test_reported_power(watts, plausible):
    drop = watts / 10 * 0.005  # ten volts, five milliohms
    assert sense(0.005, 10.0, 12.0, 12.0 - drop, 66.0).plausible == plausible
    assert sense(0.005, 10.0, 12.0, 12.0 - drop).plausible == plausible, "66 W where nobody says a limit"


@pytest.mark.parametrize(
    ("ohms", "factor"),
    [
        *((2.99e5, 1000), (3.01e5, None), (3.4e4, 1000), (3.3e4, None)),
        *((0.109, 0.001), (0.111, None), (0.092, 0.001), (0.09, None)),
        (1e8, 1e6),
    ],
)
def test_a_slip_of_unit(ohms, factor):
    reference = reference_of(reading("r1", value(100.0)), good(100.0))
    found = slip(reading("r1", value(ohms)), reference)
    assert found == (None if factor is None else pytest.approx(factor))


@pytest.mark.parametrize(
    ("ohms", "asked"), [(29.9, True), (30.1, False), (10.1, True), (9.9, True), (9.0, False), (2.0, False)]
)
def test_a_plausible_short_is_no_slip(ohms, asked):
    reference = reference_of(reading("r1", value(10_000.0)), good(10_000.0))
    assert (slip(reading("r1", value(ohms)), reference) is not None) == asked


def chips(pin, *ohms, quantity="resistance", mode="ohms"):
    return [
        Reading(f"U{number}.{pin}", quantity, Value(entry, entry), mode, "ground")
        for number, entry in enumerate(ohms, 11)
    ]


@pytest.mark.parametrize(
    ("ohms", "odd"),
    [
        ((100.0, 100.0, 200.0), True),
        ((100.0, 200.0), False),  # two chips do not tell which
        ((100.0, 100.0, 100.0, 106.3), False),  # six in a hundred
        ((100.0, 100.0, 100.0, 106.5), True),
        ((1.0, 1.0, 1.0, 1.15), False),  # 0.15 ohm
        ((1.0, 1.0, 1.0, 1.151), True),
    ],
)
def test_a_chip_that_is_odd(ohms, odd):
    assert bool(odd_ones(chips("A1", *ohms)).odd) == odd


@pytest.mark.parametrize(("volts", "odd"), [(0.412, False), (0.4121, True), (0.388, False), (0.3879, True)])
@pytest.mark.parametrize(("quantity", "mode"), [("diode", "diode"), ("voltage", "")])
def test_a_chip_that_is_odd_by_its_volts(volts, odd, quantity, mode):
    table = chips("A1", 0.4, 0.4, 0.4, volts, quantity=quantity, mode=mode)
    assert bool(odd_ones(table).odd) == odd


@pytest.mark.parametrize(("other", "shared"), [(421.0, True), (421.1, False)])
def test_odd_values_that_are_one_line(other, shared):
    """Five parts in a hundred of the larger: 400 and 421."""
    odd = odd_ones(chips("A1", 100.0, 100.0, 100.0, 100.0, 100.0, 400.0, other)).odd
    assert any(odd_chip.shared for odd_chip in odd) == shared


def test_odd_beyond_five_spreads():
    """Chips that lie six in a hundred apart by their median: five of those spreads are about half as much again."""
    away = 0.06
    far = 5.0 * 1.4826 * math.sqrt(7 / 6) * away
    for factor, odd in ((0.99, False), (1.01, True)):
        logs = (-away, -away, -away, 0.0, away, away, far * factor)
        assert bool(odd_ones(chips("A1", *(100.0 * math.exp(log) for log in logs))).odd) == odd, factor


@pytest.mark.parametrize(
    ("quantity", "values", "split"),
    [
        # two in the smaller group, and two fifths of all
        *(("diode", (0.4, 0.4, 0.45), False), ("diode", (0.4, 0.4, 0.45, 0.45), True)),
        *(("diode", (0.4,) * 3 + (0.45,) * 2, True), ("diode", (0.4,) * 4 + (0.45,) * 2, False)),
        # five times apart
        *(("resistance", (100, 100, 500, 500), True), ("resistance", (100, 100, 499, 499), False)),
        # three tenths within a group
        *(("resistance", (70, 100, 900, 900), True), ("resistance", (69.9, 100, 900, 900), False)),
        *(("resistance", (10, 10, 700, 1000), True), ("resistance", (10, 10, 699, 1000), False)),
        # what two leads repeat, 0.15 ohm, is no distance, and counts as alike
        *(("resistance", (0.0, 0.0, 0.151, 0.151), True), ("resistance", (0.0, 0.0, 0.15, 0.15), False)),
        *(("resistance", (0.0, 0.15, 9, 9), True), ("resistance", (0.0, 0.151, 9, 9), False)),
        # fifty millivolts apart, twenty-five within
        *(("diode", (0.4, 0.4, 0.449, 0.449), False), ("diode", (0.4, 0.425, 0.5, 0.5), True)),
        *(("diode", (0.4, 0.4251, 0.5, 0.5), False), ("voltage", (1.0, 1.0, 1.05, 1.05), True)),
        *(("voltage", (1.0, 1.0, 1.049, 1.049), False), ("voltage", (1.0, 1.025, 1.1, 1.1), True)),
        ("voltage", (1.0, 1.0251, 1.1, 1.1), False),
        # clocks by shares alone; amperes fall into no groups
        *(("frequency", (0.1, 0.1, 0.6, 0.6), True), ("frequency", (1.0, 1.9, 40, 40), False)),
        *(("current", (1.0, 1.0, 9.0, 9.0), False), ("current", (1.0, 1.5, None, None), False)),
    ],
)
def test_fellows_in_two_groups(quantity, values, split):
    assert bool(odd_ones(chips("A1", *values, quantity=quantity, mode="")).split) == split


@pytest.mark.parametrize(
    ("odd_balls", "balls", "stranger"), [(6, 11, True), (6, 12, False), (5, 6, False), (7, 12, True)]
)
def test_a_chip_that_is_another_part(odd_balls, balls, stranger):
    read = []
    for ball in range(balls):
        mine = 0.7 if ball < odd_balls else 0.4
        read += chips(f"A{ball}", 0.4, 0.4, 0.4, 0.4, mine, quantity="diode", mode="diode")
    kinds = Kinds(dict.fromkeys((f"U{number}" for number in range(11, 16)), "kind"), {})
    assert ("U15" in strangers(judge_balls(read, kinds))) == stranger


@pytest.mark.parametrize(("lines", "among"), [(5, ""), (6, "lines")])
def test_so_many_data_lines_tell_which_is_odd(lines, among):
    names = [f"D{number}" for number in range(lines)]
    read = [Reading(f"U11.{name}", "diode", value(0.4), "diode", "ground") for name in names]
    judged = judge_balls(read, Kinds({"U11": "kind"}, {"U11": names}))
    assert {judgement.among for judgement in judged} == {among}


@pytest.mark.parametrize(("pads", "answer"), [(0.301, "left"), (0.3, "unclear"), (0.299, "unclear"), (0.21, "board")])
def test_pads_on_their_way_back_to_usual(pads, answer):
    """A ball that read 0.2 V where 0.4 V is usual: half of the way back is 0.3 V."""
    before = chips("A1", 0.4, 0.4, 0.4, 0.2, quantity="diode", mode="diode")
    lifted = Reading("U14.A1", "diode", value(pads), "diode", "ground", condition=frozenset({"site pads"}))
    judged = judge_balls([*before, lifted], Kinds(dict.fromkeys(("U11", "U12", "U13", "U14"), "kind"), {}))
    assert after_lifting(judged[3], judged[4], None).answer == answer


@pytest.mark.parametrize(("ohms", "passed"), [(95.0, True), (94.9, False), (105.2, True), (105.3, False)])
def test_the_known_good_card_reads_as_it_was_captured(ohms, passed):
    """Five parts in a hundred of the higher of the two."""
    assert check_card(value(ohms), value(100.0), "L9").passed == passed


@pytest.mark.parametrize(("ohms", "passed"), [(0.99, True), (1.0, True), (1.01, False)])
def test_leads_held_together(ohms, passed):
    assert check_leads(value(ohms), []).passed == passed


@pytest.mark.parametrize(
    ("ohms", "past", "passed"),
    [
        *((0.3, [0.1] * 3, True), (0.31, [0.1] * 3, False)),
        *((0.7, [0.5] * 3, True), (0.701, [0.5] * 3, False)),
        (0.31, [0.1] * 2, True),  # two checks say nothing of what is usual
    ],
)
def test_leads_that_rose(ohms, past, passed):
    assert check_leads(value(ohms), past).passed == passed


@pytest.mark.parametrize(("cards", "hint"), [(1, True), (2, True), (3, False), (4, False)])
def test_a_figure_of_few_cards_is_a_hint(cards, hint):
    assert ("take it as a hint" in verdict("r1", value(100.0), good(100.0, cards)).why) == hint


def test_the_band_of_good_cards():
    """99 of 100 next cards: with so many alike the prior of four cards and six in a hundred is what is left."""
    from scipy.special import stdtrit

    for cards in (1, 3, 30):
        reference = reference_of(reading("r1", value(100.0)), good(100.0, cards))
        usual = 0.06 if cards < 9 else 0.02  # nine entries say how far this library's cards lie apart
        spread = math.sqrt(4.0 * usual**2 / (4.0 + cards - 1))
        wide = stdtrit(4.0 + cards - 1, 0.995) * spread * math.sqrt(1 + math.pi / 2 / cards)
        assert reference.high == pytest.approx(100.0 * math.exp(wide))
        assert reference.low == pytest.approx(100.0 * math.exp(-wide))


@pytest.mark.parametrize(("own", "usual"), [(0.001, 0.02), (0.02, 0.02), (0.1, 0.1), (0.2, 0.2), (0.5, 0.2)])
def test_the_usual_spread_is_believed_between_two_ends(own, usual):
    """Nine things, each read of three cards that lie `own` apart by their median."""
    entries = []
    for rail in range(9):
        middle = 100.0 * 3**rail
        apart = own / 1.4826 / math.sqrt(1.5)
        values = [value(middle * math.exp(step)) for step in (-apart, 0.0, apart)]
        entries += known(f"r{rail}", *values)
    assert Library(entries, PLACES).spread == pytest.approx(usual)


@pytest.mark.parametrize(
    ("lowest", "things", "usual"),
    [
        # a thing counts where every card reads more than ten times what the meter tells apart: half an ohm
        *((0.5, 3, 0.06), (0.51, 3, 0.1)),
        # nine readings tell: three things of three cards
        (100.0, 2, 0.06),
    ],
)
def test_the_librarys_own_spread_is_taken_from_things_that_tell_it(lowest, things, usual):
    entries = []
    for rail in range(things):
        middle = lowest * math.exp(0.1 / 1.4826 / math.sqrt(1.5))
        entries += known(f"r{rail}", value(lowest), value(middle), value(middle**2 / lowest), value(1e-6))
    assert Library(entries, PLACES).spread == pytest.approx(usual)


@pytest.mark.parametrize(("ohms", "by_logarithm"), [(1e-6, False), (1.2e-6, True)])
def test_next_to_nothing_is_compared_as_it_is(ohms, by_logarithm):
    reference = reference_of(reading("r1", value(1.0)), good(ohms))
    assert (reference.low == pytest.approx(ohms - 0.05)) == by_logarithm


def test_an_entry_that_stands_out_in_the_library():
    for away, odd in ((3.9, ()), (4.1, ("card 4",))):
        spread = math.sqrt(4.0 * 0.06**2 / (4.0 + 4))  # what five cards leave of the prior
        read = [100.0, 100.0, 100.0, 100.0, 100.0 * math.exp(away * spread)]
        assert reference_of(reading("r1", value(100.0)), known("r1", *map(value, read))).odd == odd


@pytest.mark.parametrize(
    ("quantity", "mode", "narrow"),
    [
        *(("resistance", "ohms", 0.05), ("diode", "diode", 0.008), ("voltage", "", 0.01)),
        *(("current", "", 0.01), ("frequency", "", 1.0), ("temperature", "", 1.0)),
    ],
)
def test_no_band_is_narrower_than_what_a_meter_tells_apart(quantity, mode, narrow):
    tiny = narrow / 100
    library = known("r1", *[value(tiny)] * 30, quantity=quantity, mode=mode)
    reference = reference_of(reading("r1", value(tiny), quantity=quantity, mode=mode), library)
    assert (reference.low, reference.high) == (pytest.approx(tiny - narrow), pytest.approx(tiny + narrow))


@pytest.mark.parametrize(("apart", "word"), [(0.21, "alike"), (0.23, "higher")])
def test_two_cards_that_differ(apart, word):
    """2.58 times the root of two, of a spread of six in a hundred: 0.219 on a log scale."""
    mine, other = (Reading("r1", "resistance", value(ohms), "ohms", "ground") for ohms in (1e3 * math.exp(apart), 1e3))
    assert beside([mine], [other], PLACES)[0].word == word


def test_each_limit_is_named_once_with_its_unit():
    """A share is told from a voltage by its name, and every limit stands in this one module."""
    names = [name for name in vars(limits) if name.isupper()]
    assert len(names) > 40
    assert "SHORT_BELOW" not in names
