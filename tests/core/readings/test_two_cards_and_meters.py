"""Two cards in turn, the morning check, and meters that print lines."""

from __future__ import annotations

import json
import math
import random
from decimal import Decimal

import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from uvrix.core.errors import Refusal
from uvrix.core.readings.beside import beside
from uvrix.core.readings.meter_lines import METER_READER_SCHEMA, MeterLine, MeterMark, read_meter_reader, teach_meter
from uvrix.core.readings.morning import check_card, check_leads, check_resistor
from uvrix.core.readings.notation import Value, parse_value
from uvrix.core.readings.points import Places
from uvrix.core.readings.reading_file import Reading

PLACES = Places({f"P{n}": "pad" for n in range(40)}, {}, frozenset(), {})


def ohms(point, value):
    return Reading(point, "resistance", Value(value, value), "ohms", "ground")


def diode(point, value):
    return Reading(point, "diode", Value(value, value), "diode", "ground")


def test_what_differs_between_two_cards_comes_first():
    rows = beside(
        [ohms("P1", 228.0), ohms("P2", 0.4), ohms("P3", None), diode("P4", 0.41), ohms("P5", 12.0)],
        [ohms("P1", 235.0), ohms("P2", 212.0), ohms("P3", 40.0), diode("P4", 0.52), ohms("P6", 3.0)],
        PLACES,
    )
    assert [(comparison.point, comparison.word) for comparison in rows] == [
        ("P3", "open"),
        ("P2", "lower"),
        ("P4", "lower"),
        ("P5", "one"),
        ("P6", "one"),
        ("P1", "alike"),
    ]
    assert rows[1].says == "0.4 Ω here, 212 Ω on the other card: 530 times lower."
    assert rows[0].says == "OL here, 40 Ω on the other card."


def test_of_two_good_cards_little_differs_and_a_fault_is_seen():
    dice = random.Random(8_126)
    good = faults = seen = 0
    for _ in range(200):
        usual = {f"P{n}": 10 ** dice.uniform(-0.5, 5) for n in range(20)}
        one = [ohms(point, value * dice.gauss(1, 0.06)) for point, value in usual.items()]
        other = [ohms(point, value * dice.gauss(1, 0.06)) for point, value in usual.items()]
        good += sum(row.word != "alike" for row in beside(one, other, PLACES))
        bad = dice.randrange(20)
        broken = [*one[:bad], ohms(f"P{bad}", usual[f"P{bad}"] * dice.choice([0.05, 0.5, 2.0, 20.0])), *one[bad + 1 :]]
        faults += 1
        seen += any(row.point == f"P{bad}" and row.word != "alike" for row in beside(broken, other, PLACES))
    print(f"two cards: {good} of 4000 good pairs differ, {seen} of {faults} faults seen")
    assert good / 4000 <= 0.02
    assert seen / faults >= 0.97


def test_a_later_reading_counts_and_both_open_are_alike():
    rows = beside([ohms("P1", 5.0), ohms("P1", 200.0), ohms("P2", None)], [ohms("P1", 205.0), ohms("P2", None)], PLACES)
    assert {comparison.point: comparison.word for comparison in rows} == {"P1": "alike", "P2": "alike"}


@pytest.mark.parametrize(
    ("text", "past", "passed", "word"),
    [
        ("0R1", [], True, "held together."),
        ("0R14", [0.1, 0.12, 0.11], True, "usually 0.11"),
        ("0R4", [0.1, 0.12, 0.11], False, "going bad"),
        ("1R4", [], False, "worn, dirty or loose"),
        ("OL", [0.1], False, "broken"),
        ("0R1..3R", [], False, "jumps"),
    ],
)
def test_leads_held_together(text, past, passed, word):
    said = check_leads(parse_value(text, "resistance"), past)
    assert (said.passed, word in said.says) == (passed, True)


@pytest.mark.parametrize(
    ("text", "passed"),
    [("100", True), ("101", True), ("102R5", False), ("97", False), ("OL", False), ("99..101", False)],
)
def test_the_reference_resistor(text, passed):
    said = check_resistor(parse_value(text, "resistance"), 100.0, 0.02)
    assert said.passed == passed
    assert "98 Ω to 102 Ω" in said.says


@given(st.decimals("0.5", "10000", places=2), st.sampled_from(["0.01", "0.02", "0.05", "0.1"]))
@example(ohms=Decimal("4.7"), tolerance="0.01")  # 4.7 - 0.05 lies a little above 4.65, as a computer counts
def test_a_reading_right_on_the_limit_passes(ohms, tolerance):
    band = max(ohms * Decimal(tolerance), Decimal("0.05"))
    for figure in (ohms - band, ohms + band):
        assert check_resistor(Value(float(figure), float(figure)), float(ohms), float(tolerance)).passed
    rise = ohms + Decimal("0.2")
    assert check_leads(Value(float(rise), float(rise)), [float(ohms)] * 3).passed or rise > 1


def test_the_known_good_card_is_held_against_itself():
    was = parse_value("212", "resistance")
    assert check_card(parse_value("215", "resistance"), was, "L9").passed
    low = check_card(parse_value("180", "resistance"), was, "L9")
    assert (low.passed, low.says) == (False, "180 Ω at L9, captured as 212 Ω.")
    assert not check_card(parse_value("OL", "resistance"), was, "L9").passed


STYLES = ["{v} {u}", "N  {v} {u}  AUTO", "R:{v};{u};#7", "{n} DCV/OHM {v}{u}", "\tVAL={v},UNIT={u}", "{v} {u} {n}%"]
UNITS = [("Ohm", 1.0), ("kOhm", 1e3), ("MOhm", 1e6), ("mV", 1e-3), ("V", 1.0)]


def test_a_meter_is_taught_from_a_few_marked_words():
    dice = random.Random(61)
    for style in STYLES * 6:
        truth, lines, marks = [], [], []
        for number in range(30):
            unit, scale = dice.choice(UNITS)
            value = f"{dice.choice(['', '0'])}{dice.uniform(1, 999):.{dice.randint(1, 3)}f}"
            before, rest = style.replace("{n}", str(dice.randint(1, 99))).split("{v}")
            between, after = rest.split("{u}")
            lines.append(f"{before}{value}{between}{unit}{after}")
            truth.append(("diode" if unit.endswith("V") else "resistance", float(value) * scale))
            if number == 0:
                at = len(before) + len(value) + len(between)
                marks = [MeterMark(0, len(before), len(before) + len(value), "value")]
                marks += [MeterMark(0, at, at + len(unit), "unit")]
        over = style.format(v="OL", u="Ohm", n=3)
        start = over.index("OL")
        sample = "\n".join([lines[0], over, *lines[1:9]])
        document = teach_meter(sample, [*marks, MeterMark(1, start, start + 2, "over")])
        reader = read_meter_reader(json.loads(json.dumps(document)))
        said = [reader.read(line) for line in lines]
        assert [line and line.quantity for line in said] == [quantity for quantity, _ in truth]
        assert [line and line.value for line in said] == [pytest.approx(value) for _, value in truth]
        open_line = reader.read(over)
        assert open_line
        assert open_line.value is None
        assert reader.read("self test, please wait") is None


def test_a_meter_without_units_is_told_one():
    document = teach_meter("+0.412\n+0.398\n", [MeterMark(0, 0, 6, "value")], "V")
    said = read_meter_reader(document).read("-0.401")
    assert said
    assert (said.quantity, said.value) == ("diode", -0.401)


SAMPLE = "R 12.4 kOhm\nR OL kOhm\n"
VALUE, UNIT = MeterMark(0, 2, 6, "value"), MeterMark(0, 7, 11, "unit")


@pytest.mark.parametrize(
    ("marks", "unit", "found"),
    [
        ([], "", "no value"),
        ([VALUE], "", "no unit"),
        ([VALUE, MeterMark(0, 4, 11, "unit")], "", "overlap"),
        ([MeterMark(0, 7, 11, "value")], "V", "kOhm"),
        ([VALUE, MeterMark(0, 0, 1, "unit")], "", '"R"'),
        ([MeterMark(0, 2, 13, "value")], "V", "line 1, 2 to 13"),
        ([MeterMark(5, 2, 6, "value")], "V", "line 6"),
        ([VALUE, MeterMark(0, 0, 1, "over")], "V", "one line"),
        ([VALUE, MeterMark(0, 0, 1, "value")], "V", "twice"),
        ([MeterMark(1, 5, 9, "unit")], "V", "alone"),
        ([VALUE], "furlong", "furlong"),
    ],
)
def test_marks_that_do_not_fit_are_refused(marks, unit, found):
    with pytest.raises(Refusal) as refused:
        teach_meter(SAMPLE, marks, unit)
    assert found in str(refused.value)


def test_a_meter_readers_file_is_checked():
    assert METER_READER_SCHEMA["properties"]["format"]["const"] == "uvrix-meter-reader"
    good = {"format": "uvrix-meter-reader", "version": 1, "lines": [{"use": "reading", "pattern": "(?P<value>[0-9]+)"}]}
    assert read_meter_reader({**good, "unit": "V"}).rules
    for strange in (
        {**good, "unit": "furlong"},
        {**good, "lines": []},
        {**good, "lines": [{"use": "reading", "pattern": "[0-9]+"}]},
        {**good, "lines": [{"use": "reading", "pattern": "(?P<value>[0-9]+)(?=x)"}]},
    ):
        with pytest.raises(Refusal):
            read_meter_reader(strange)


@pytest.mark.parametrize(
    ("mine", "other", "says"),
    [
        (150.0, 100.0, "150 Ω here, 100 Ω on the other card: 1.5 times higher."),
        (149.0, 100.0, "149 Ω here, 100 Ω on the other card."),
        (100.0, 200.0, "100 Ω here, 200 Ω on the other card: 2.0 times lower."),
        (990.0, 100.0, "990 Ω here, 100 Ω on the other card: 9.9 times higher."),
        (1000.0, 100.0, "1 kΩ here, 100 Ω on the other card: 10 times higher."),
        (1060.0, 100.0, "1.06 kΩ here, 100 Ω on the other card: 11 times higher."),
        (0.0, 100.0, "0 Ω here, 100 Ω on the other card."),
    ],
)
def test_how_many_times_is_said_where_it_says_more_than_the_numbers(mine, other, says):
    [row] = beside([ohms("P1", mine)], [ohms("P1", other)], PLACES)
    assert row.says == says


def test_two_cards_differ_by_more_than_twice_what_a_meter_tells_apart():
    """8 mV in diode mode, of each of two readings: 2 · 8 mV · √2."""
    allowed = 2 * (0.008 * math.sqrt(2))
    for volts, word in ((allowed, "alike"), (allowed * 1.001, "higher")):
        [row] = beside([diode("P1", volts)], [diode("P1", 0.0)], PLACES)
        assert row.word == word
    assert row.apart == pytest.approx(1.001)
    assert beside([ohms("P1", None)], [ohms("P1", None)], PLACES)[0].apart == 0.0


@pytest.mark.parametrize(
    ("unit", "factor", "quantity"),
    [
        *(("Ohm", 1.0, "resistance"), ("kOhm", 1e3, "resistance"), ("KOHM", 1e3, "resistance")),
        *(("MΩ", 1e6, "resistance"), ("mOhm", 1e-3, "resistance"), ("V", 1.0, "diode")),
        *(("mV", 1e-3, "diode"), ("uV", 1e-6, "diode"), ("µV", 1e-6, "diode"), ("V DC", 1.0, "diode")),
    ],
)
def test_the_units_that_a_meter_may_print(unit, factor, quantity):
    pattern = r"^(?P<value>[0-9.]+) (?P<unit>.+)$"
    reader = read_meter_reader({**READER, "lines": [{"use": "reading", "pattern": pattern}]})
    said = reader.read(f"12.5 {unit}")
    assert said
    assert said.quantity == quantity
    assert said.value == pytest.approx(12.5 * factor, rel=1e-12)


READER = {"format": "uvrix-meter-reader", "version": 1}
NUMBER = {"use": "reading", "pattern": r"^[x ]*(?P<value>\S+)( (?P<unit>[A-Za-z]+))?$"}


@pytest.mark.parametrize(
    ("line", "said"),
    [
        ("5 V", ("diode", 5.0)),
        ("5 Volts", None),  # a unit that is none
        ("five V", None),
        ("x" * 399 + "5", ("diode", 5.0)),
        ("x" * 400 + "5", None),  # the end of so long a line is not read
    ],
)
def test_a_line_whose_number_or_unit_is_none_says_nothing(line, said):
    found = read_meter_reader({**READER, "unit": "V", "lines": [NUMBER]}).read(line)
    assert (found and (found.quantity, found.value)) == said


@pytest.mark.parametrize(
    ("pattern", "unit", "line", "quantity"),
    [
        (r"^OL (?P<unit>\w+)$", "", "OL kOhm", "resistance"),
        (r"^OL (?P<unit>\w+)$", "Ohm", "OL V", "diode"),
        (r"^OL$", "V", "OL", "diode"),
        (r"^OL$", "", "OL", None),
        (r"^OL (?P<unit>\w+)$", "", "OL overload", None),
    ],
)
def test_over_limit_is_of_the_quantity_whose_unit_the_line_says(pattern, unit, line, quantity):
    reader = read_meter_reader({**READER, "unit": unit, "lines": [{"use": "over", "pattern": pattern}]})
    assert reader.read(line) == MeterLine(quantity, None)


@pytest.mark.parametrize(
    ("part", "fits"),
    [
        ({"unit": "  kOhms "}, True),
        ({"unit": "  kOhms  "}, False),  # eight characters
        ({"lines": [NUMBER] * 40}, True),
        ({"lines": [NUMBER] * 41}, False),
        ({"lines": [{"use": "over", "pattern": "x"}]}, True),
        ({"lines": [{"use": "over", "pattern": ""}]}, False),
        ({"lines": [{"use": "over", "pattern": "x" * 2000}]}, True),
        ({"lines": [{"use": "over", "pattern": "x" * 2001}]}, False),
    ],
)
def test_a_meter_readers_file_is_no_longer_than_it_may_be(part, fits):
    document = {**READER, "lines": [NUMBER], **part}
    if fits:
        assert read_meter_reader(document).rules
        return
    with pytest.raises(Refusal):
        read_meter_reader(document)


def test_a_pattern_that_is_none_is_refused_with_what_is_wrong_in_it():
    with pytest.raises(Refusal) as refused:
        read_meter_reader({**READER, "lines": [{"use": "over", "pattern": "(OL"}]})
    assert (refused.value.place, refused.value.found) == ("$.lines[0].pattern", '"(OL" (unclosed group)')


def test_two_readers_of_the_same_rules_are_the_same():
    noted = read_meter_reader({**READER, "lines": [NUMBER], "unit": "V", "note": "of the bench by the window"})
    assert noted == read_meter_reader({**READER, "lines": [NUMBER], "unit": "V"})
    assert "window" not in repr(noted)


@pytest.mark.parametrize(
    ("mark", "found"),
    [
        (MeterMark(2, 0, 1, "value"), "line 3, 0 to 1"),
        (MeterMark(0, 3, 3, "value"), "line 1, 3 to 3"),
        (MeterMark(400, 0, 1, "value"), "line 401, 0 to 1"),
    ],
)
def test_a_mark_lies_in_a_line_of_the_sample(mark, found):
    sample = SAMPLE if mark.line < 3 else "5\n" * 500
    with pytest.raises(Refusal) as refused:
        teach_meter(sample, [mark], "V")
    assert refused.value.found == found


def test_the_last_line_of_a_long_sample_that_is_looked_at():
    assert teach_meter("5\n" * 500, [MeterMark(399, 0, 1, "value")], "V")["lines"]


def test_what_is_marked_twice_is_named():
    marks = [VALUE, UNIT, MeterMark(0, 0, 1, "value")]
    with pytest.raises(Refusal) as refused:
        teach_meter(SAMPLE, marks)
    assert refused.value.found == "value twice in one line"
