"""The full report: what is read, what is not, and against a slow reader written from the contract."""

from __future__ import annotations

import csv
import io

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.memory.cases import CHANNELS, clamshell, lines_of, located, read, sites_of, six
from uvrix.core.errors import Refusal

HEAD = "channel,address,expected,actual,bits,count\n"


def test_columns_in_any_order_and_case_byte_order_mark_and_line_ends():
    plain = "channel,expected,actual\nA0,00000000,00000001\nB1,0xFFFFFFFF,0XFFFFFFFE\n"
    dressed = "\ufeffACTUAL , Channel,expected\r\n00000001,A0,00000000\r\nFFFFFFFE,B1,ffffffff\r\n"
    assert located(plain)["sites"] == located(dressed)["sites"]


def test_metadata_of_the_contract():
    report = read("# condition: cold, pressed U12\n#Result:FAIL\n# bench: two\nchannel\nA0\n")
    assert report.meta.condition == ("cold", "pressed U12")
    assert report.meta.result == "fail"
    assert report.meta.keys["bench"] == "two"
    assert report.format == "full"


@pytest.mark.parametrize(
    ("row", "errors"),
    [
        ("A0,,00000000,00000001,,", 1),
        ("A0,,0,1,,7", 7),
        ("A0,,5,5,,", 1),
        ("A0,,,,,", 1),
        ("A0", 1),
        ("A0,zz,0,1,,", 1),
        ("A0,,,,80000000,3", 3),
        ("A0,,0,1,,5,extra,cells", 5),
        (" A0 , , 0 , 1 ,, 2 ", 2),
    ],
)
def test_rows_that_are_read(row, errors):
    report = read(HEAD + row + "\n")
    assert (report.rows, report.unread.count, report.errors) == (1, 0, errors)


@pytest.mark.parametrize(
    "row",
    [
        "A0,,xyz,0,,",
        "A0,,100000000,0,,",
        "A0,,-1,0,,",
        "A0,,+1,0,,",
        "A0,,0,1,,0",
        "A0,,0,1,,-3",
        "A0,,0,1,,two",
        "A0,,0,1,,1.5",
        "A0,,,,200000000,",
        ",,0,1,,",
        ",40,0,1,,",
        "~~ stalled ~~",
        'A0,,"0,1,,',
    ],
)
def test_rows_that_are_counted_as_unread_and_quoted(row):
    report = read(HEAD + "A0,,0,1,,\n" + row + "\n" + "A1,,0,1,,\n")
    assert (report.rows, report.unread.count) == (2, 1)
    assert report.unread.quotes[0][0] == 3
    assert report.unread.quotes[0][1].startswith(row.strip()[:8])


def test_the_first_twenty_unread_rows_are_quoted_with_their_lines():
    report = read("channel\nA0\n\n# more\n" + "?\n" * 33)
    assert report.unread.count == 33
    assert [line for line, _ in report.unread.quotes] == list(range(5, 25))


def test_quoted_fields_line_ends_inside_them_and_quotes_that_never_close():
    text = 'channel,pattern,expected,actual\n"A0","walking ""ones""\nand zeros",0,1\nA1,"open,0,2\nB0,x,0,4\n'
    report = read(text)
    assert report.rows == 2
    assert report.unread.count == 1
    assert report.unread.quotes[0][0] == 4


@pytest.mark.parametrize("block_bytes", [16, 40, 64, 100, 1 << 20])
def test_quoted_fields_go_over_the_ends_of_blocks(block_bytes):
    text = "channel,pattern,bits\n" + 'A0,"walk\nones",1\nA1,plain,2\n' * 60 + 'B0,"open,4\nB1,x,8\n'
    report = read(text, block_bytes=block_bytes)
    assert {name: entry.errors for name, entry in report.evidence.channels.items()} == {"A0": 60, "A1": 60, "B1": 1}
    assert [line for line, _ in report.unread.quotes] == [182]


def test_bits_stand_for_words_and_equal_words_are_errors_of_unknown_lines():
    found = sites_of(located(HEAD + "A0,,,,80000001,2\nA1,,7,7,,3\n"))
    assert lines_of(found["M0"]) == {0: 2, 31: 2}
    assert (found["M1"]["errors"], lines_of(found["M1"])) == (3, {})


def test_channels_the_board_lacks_and_places_that_are_empty_are_warned_about():
    found = located("channel,expected,actual,count\nD7,0,1,4\nC1,0,1,2\nA0,0,1,1\n")
    assert found["reports"][0]["errors"] == 7
    assert sum(site["errors"] for site in found["sites"]) == 1
    assert any("D7" in warning and "4 errors" in warning for warning in found["warnings"])
    assert any("C1" in warning and "2 errors" in warning and "M5" in warning for warning in found["warnings"])


def test_unknown_columns_are_named_in_a_warning():
    assert "temp_c" in " ".join(located("channel,temp_c\nA0,50\n")["warnings"])


def test_clamshell_words_count_for_the_chips_whose_lines_are_wrong():
    found = sites_of(located("channel,bits,count\nA0,1,5\nA0,10000,2\nA0,10001,3\nA0,,7\n", board=clamshell()))
    assert found["F0"]["errors"] == 5 + 3 + 7
    assert found["R0"]["errors"] == 2 + 3 + 7
    assert lines_of(found["F0"]) == {0: 8}
    assert lines_of(found["R0"]) == {16: 5}
    assert found["F0"]["share"] == pytest.approx(15 / 27, abs=1e-6)


def test_errors_on_lines_of_a_chip_that_is_not_fitted_are_warned_about():
    found = located("channel,bits,count\nB0,10000,4\nB0,1,1\n", board=clamshell())
    assert sites_of(found)["F1"]["errors"] == 1
    assert sites_of(found)["R1"]["errors"] == 0
    assert any("B0" in warning and "4 errors" in warning for warning in found["warnings"])


@pytest.mark.parametrize(
    ("text", "place", "found"),
    [
        (b"", "1", "empty"),
        (b"\n \n", "1", "empty"),
        (b"# condition: cold\n", "1", "no header"),
        (b"A0,00000000,00000001\n", "1", "A0"),
        (b"channel,channel\nA0,A0\n", "1", "2 columns named channel"),
        (b"# result: maybe\nchannel\nA0\n", "1", "maybe"),
        (b"\n# refusal: sulking\nchannel\n", "2", "sulking"),
        (b"# tested_mib: nan\nchannel\n", "1", "nan"),
        (b"channel\n?\n!\n", "2", "2 rows"),
        (b"channel\nA0\n\0\n", "3", "NUL"),
        (b"channel\nA0\n\xfe\n", "3", "0xFE"),
        ("channel\nA0\n".encode("utf-16"), "1", "UTF-16"),
        (b"channel\nA0\n" + b"x" * (1 << 21), "3", "over"),
        (b"channel\nA0\n" + b"x" * (1 << 21) + b"\nA0\n", "3", "over"),
    ],
)
@pytest.mark.parametrize("block_bytes", [64, 1 << 23])
def test_refused_whole(text, place, found, block_bytes):
    with pytest.raises(Refusal) as refused:
        read(text, block_bytes=block_bytes)
    assert refused.value.place == place
    assert found in refused.value.found


def slowly(text, known):
    """The contract of the full report read row by row, for comparison."""
    rows = [line for line in text.splitlines() if line.strip() and not line.startswith("#")]
    names = [name.strip().lower() for name in rows[0].split(",")]
    read_rows, errors, unread, lines = 0, {}, 0, {}
    for row in rows[1:]:
        cells = dict(zip(names, [cell.strip() for cell in next(csv.reader(io.StringIO(row)))], strict=False))
        try:
            words = {key: int(cells[key], 16) for key in ("expected", "actual", "bits") if cells.get(key)}
            count = int(cells.get("count") or 1)
            bad = count < 1 or any(word > 0xFFFFFFFF for word in words.values())
        except ValueError:
            bad = True
        channel = cells.get("channel", "")
        if bad or not (channel in known or (channel[:1].isalpha() and channel[1:].isdigit())):
            unread += 1
            continue
        read_rows += 1
        errors[channel] = errors.get(channel, 0) + count
        both = {"expected", "actual"} <= words.keys()
        mask = words["expected"] ^ words["actual"] if both else words.get("bits", 0)
        for line in range(32):
            if mask >> line & 1:
                lines[channel, line] = lines.get((channel, line), 0) + count
    return read_rows, unread, errors, lines


word = st.integers(0, 2**32 - 1).map(lambda number: f"{number:08X}")
cells = st.tuples(
    st.sampled_from([*CHANNELS, "D9", ""]), word | st.just("zz"), word, st.sampled_from(["", "1", "3", "0", "40", "x"])
)


@given(
    st.lists(cells.map(",".join) | st.sampled_from(["", "# later", "~~ lost ~~"]), min_size=1, max_size=60),
    st.integers(30, 300),
)
def test_agrees_with_a_slow_reader_whatever_the_size_of_a_block(rows, block_bytes):
    text = "# condition: cold\nchannel,expected,actual,count\n" + "\n".join(rows) + "\n"
    expected = slowly(text, CHANNELS)
    if expected[0] == 0 and expected[1]:
        with pytest.raises(Refusal):
            read(text, block_bytes=block_bytes)
        return
    report = read(text, block_bytes=block_bytes)
    channels = report.evidence.channels
    assert (report.rows, report.unread.count) == expected[:2]
    assert {name: entry.errors for name, entry in channels.items()} == expected[2]
    found = {(name, line): n for name, one in channels.items() for line, n in enumerate(one.lines) if n}
    assert found == expected[3]


def test_addresses_give_the_channel_by_exclusive_or_of_their_bits():
    board = six(address_map={"select": [[8, 13], [9]], "order": ["A0", "A1", "B0", "B1"]})
    text = "address,bits\n0,1\n0x100,2\n2000,2\n2100,1\n300,10\nzz,1\n"
    found = sites_of(located(text, board=board))
    assert [found[f"M{n}"]["errors"] for n in range(6)] == [2, 2, 0, 1, 0, 0]


@given(st.integers(0, 2**40))
def test_stripes_deal_channels_out_in_turn(address):
    board = six(address_map={"stripe_bytes": 256, "order": ["A0", "A1", "B0", "B1", "C0"]})
    report = read(f"address,bits\n{address:X},1\n", board)
    assert list(report.evidence.channels) == [["A0", "A1", "B0", "B1", "C0"][address // 256 % 5]]


def test_a_row_that_names_another_channel_than_its_address_counts_as_named():
    board = six(address_map={"stripe_bytes": 256, "order": ["A0", "A1"]})
    found = located("channel,address,bits\nA1,0,1\nA1,100,1\nB0,0,1\n", board=board)
    assert [site["errors"] for site in found["sites"]][:3] == [0, 2, 1]
    assert any("2 rows name another channel" in warning for warning in found["warnings"])
