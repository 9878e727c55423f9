"""Runs compared under conditions, address maps learned, balls named, the virtual card."""

from __future__ import annotations

import json
import random

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.memory.cases import CHANNELS, located, six
from tests.core.memory.test_finding import report, some_of
from uvrix.core.boards.document import read_board
from uvrix.core.boards.packages import balls_of, read_package
from uvrix.core.boards.walk import places
from uvrix.core.errors import Refusal
from uvrix.core.memory.address_maps import learn_address_map
from uvrix.core.virtual.boards import random_board
from uvrix.core.virtual.faults import LOCAL_KINDS, fault_from
from uvrix.core.virtual.reports import simulate

CLEAN = "# result: pass\n# condition: {}\nchannel\n"


def failing(condition, channel="B0", count=40, seed=1):
    rng = random.Random(seed)
    return report([(channel, some_of(range(32), 0.4, rng)) for _ in range(count)]).replace("cold", condition)


def verdicts(found):
    return {entry["designator"]: entry["verdict"] for entry in found["compared"]}


def test_what_fails_flexed_and_not_otherwise_is_a_joint():
    found = located(CLEAN.format("cold"), failing("flexed up"), CLEAN.format("warm"), failing("flexed up", seed=2))
    assert (found["finding"]["kind"], found["finding"]["designators"]) == ("joint", ["M2"])
    assert "flexed up" in found["finding"]["why"][0]
    assert verdicts(found) == {"M2": "comes-and-goes"}


def test_what_fails_in_every_run_stays_and_is_no_joint():
    found = located(failing("cold"), failing("warm", seed=2), failing("flexed up", seed=3))
    assert found["finding"]["kind"] == "site"
    assert verdicts(found) == {"M2": "stays"}


def test_a_fault_that_shows_less_often_under_another_condition_is_no_joint():
    few, many = failing("cold", count=20), failing("flexed", count=240, seed=2)
    found = located(many, few)
    assert found["finding"]["kind"] == "site"
    assert verdicts(found) == {"M2": "stays"}


def test_a_tally_of_every_error_and_a_list_of_some_are_no_counts_of_one_thing():
    tally = "# condition: flexed\nchannel,errors\nB0,65000\n"
    found = located(tally, failing("cold", count=300))
    assert found["finding"]["kind"] == "site"
    assert verdicts(found) == {"M2": "stays"}
    found = located(tally, CLEAN.format("cold"))
    assert found["finding"]["kind"] == "joint"


@pytest.mark.parametrize("seed", range(6))
def test_a_list_of_hundreds_is_heard_beside_a_tally_of_thousands(seed):
    rng = random.Random(seed)
    tally = f"channel,errors,dq{(line := rng.randrange(32))}\nB0,{rng.randint(10_000, 90_000)},9000\n"
    listed = report([("B0", 1 << line) for _ in range(200)])
    found = located(tally, listed)["finding"]
    assert (found["kind"], found["dq"]) == ("dq-line", [line])


@pytest.mark.parametrize("share", [0.9, 0.95, 1.0])
def test_counts_alone_name_the_chip_that_has_nearly_all_of_them(share):
    rest = round(300 * (1 - share) / share)
    found = located(f"# result: fail\nchannel,errors\nB0,300\nA1,{rest}\nC0,0\n")
    assert (found["finding"]["kind"], found["finding"]["designators"]) == ("site", ["M2"])
    assert any("the lines are not known" in said and "DQ 0 to 31" in said for said in found["finding"]["why"])
    assert {"measure-lines", "reball"} <= {action["do"] for action in found["actions"]}
    assert "spread over 0" not in found["finding"]["why"][0]


def test_counts_alone_that_lie_in_several_chips_name_none_of_them():
    found = located("# result: fail\nchannel,errors\nB0,300\nA1,60\n")
    assert found["finding"]["kind"] != "site"


def marched(rng, bit, count, *, up, down):
    """Errors of an address line that does not move: words that were written where only that bit differs."""
    words = {}

    def word(address):
        return words.setdefault(address, rng.randrange(1 << 32))

    low = sorted({(rng.randrange(1 << 24) << 6) & ~(1 << bit) for _ in range(count)})
    rows = [(at, word(at), word(at | 1 << bit)) for at in low] if up else []
    rows += [(at | 1 << bit, word(at | 1 << bit), word(at)) for at in reversed(low)] if down else []
    lines = [f"B0,{at:x},{expected:08x},{actual:08x}" for at, expected, actual in rows]
    return "channel,address,expected,actual\n" + "\n".join(lines) + "\n"


@pytest.mark.parametrize(("up", "down"), [(True, True), (True, False), (False, True)])
@given(st.integers(0, 2**32), st.integers(15, 27), st.sampled_from([40, 150, 390]))
def test_an_address_line_is_told_whichever_way_memory_was_marched_through(up, down, seed, bit, count):
    found = located(marched(random.Random(seed), bit, count, up=up, down=down))["finding"]
    assert (found["kind"], found["designators"]) == ("address-line", ["M2"])


@given(st.integers(0, 2**32))
def test_wrong_words_from_nowhere_are_no_address_line(seed):
    rng = random.Random(seed)
    rows = [(rng.randrange(1 << 24) << 6, rng.randrange(1 << 32), rng.randrange(1 << 32)) for _ in range(200)]
    lines = [f"B0,{at:x},{expected:08x},{actual:08x}" for at, expected, actual in rows]
    found = located("channel,address,expected,actual\n" + "\n".join(lines) + "\n")["finding"]
    assert found["kind"] != "address-line"


def test_one_clean_run_under_flexing_is_enough_to_ask_about_joints():
    found = located(failing("cold"), CLEAN.format("pressed M2"))
    kinds = {found["finding"]["kind"], *(other["kind"] for other in found["others"])}
    assert "joint" in kinds


def test_a_run_that_says_nothing_is_no_clean_run():
    silent = "# condition: pressed M2\nchannel\n"
    found = located(failing("cold"), silent, silent)
    assert found["finding"]["kind"] == "site"
    assert found["compared"] == []
    refused = "# condition: warm\n# result: refused\n# refusal: not-found\nchannel\n"
    assert located(failing("cold"), refused)["compared"] == []


def test_after_rework_the_finding_is_of_the_card_as_it_is():
    cured = located(failing("cold"), CLEAN.format("cold, after-rework"))
    assert cured["finding"]["kind"] == "no-errors"
    assert verdicts(cured) == {"M2": "gone-after-rework"}
    assert sum(site["errors"] for site in cured["sites"]) == 40


def test_a_chip_that_fails_only_after_rework_beside_it_is_called_so():
    found = located(failing("cold"), failing("after-rework", channel="A1"))
    assert found["finding"]["designators"] == ["M1"]
    assert verdicts(found) == {"M1": "appears-after-rework", "M2": "gone-after-rework"}
    assert "mm from M2" in next(entry["why"] for entry in found["compared"] if entry["designator"] == "M1")


def test_a_second_fault_is_told_beside_the_first():
    rng = random.Random(5)
    rows = [("A0", 1 << 7)] * 80 + [("C0", some_of(range(8, 16), 0.5, rng)) for _ in range(30)]
    rng.shuffle(rows)
    found = located(report(rows))
    assert (found["finding"]["kind"], found["finding"]["designators"]) == ("dq-line", ["M0"])
    second = found["others"][0]
    assert (second["kind"], second["designators"]) == ("byte-lane", ["M4"])
    assert second["why"][0].startswith("Beside the fault of M0")


@pytest.mark.parametrize("refusal", ["not-found", "wrong-build", "wrong-index", "not-initialised", "other: tea break"])
def test_refusals_are_explained_and_send_nobody_to_a_chip(refusal):
    found = located(f"# result: refused\n# refusal: {refusal}\nchannel\n")
    assert found["finding"]["kind"] == "refused"
    assert refusal in found["finding"]["why"][0]
    assert len(found["finding"]["why"]) == 2
    assert {action["do"] for action in found["actions"]} <= {"recipe", "volts"}


def pairs_of(select, order, count, rng):
    found = []
    for _ in range(count):
        address = rng.getrandbits(30) & ~31
        index = 0
        for place, bits in enumerate(select):
            index |= (sum(address >> bit & 1 for bit in bits) & 1) << place
        found.append((address, order[index]))
    return found


@given(st.integers(1, 3), st.integers(0, 2**32))
def test_a_linear_map_is_learned_and_gives_every_channel_again(size, seed):
    rng = random.Random(seed)
    select = [[8 + n, *rng.sample(range(12, 26), 2)] for n in range(size)]
    order = [f"{chr(65 + n // 2)}{n % 2}" for n in range(2**size)]
    rng.shuffle(order)
    learned = learn_address_map(pairs_of(select, order, 300, rng)).address_map
    assert learned is not None
    fresh = pairs_of(select, order, 200, rng)
    for address, name in fresh:
        index = 0
        for place, bits in enumerate(learned.select):
            index |= (sum(address >> bit & 1 for bit in bits) & 1) << place
        assert learned.order[index] == name


@given(st.sampled_from([256, 512, 2048]), st.sampled_from([3, 5, 6]), st.integers(0, 2**32))
def test_stripes_of_counts_that_are_no_power_of_two_are_learned(stripe, channels, seed):
    rng = random.Random(seed)
    order = [f"C{n}" for n in range(channels)]
    pairs = [
        (address, order[address // stripe % channels]) for address in (rng.getrandbits(30) & ~31 for _ in range(300))
    ]
    learned = learn_address_map(pairs).address_map
    assert learned is not None
    assert (learned.stripe_bytes, list(learned.order)) == (stripe, order)


def test_too_few_or_contradictory_pairs_determine_nothing_and_say_so():
    rng = random.Random(2)
    few = pairs_of([[8, 13], [9, 14]], ["A0", "A1", "B0", "B1"], 8, rng)
    assert learn_address_map(few).address_map is None
    assert "more addresses" in learn_address_map(few).why
    noise = [(rng.getrandbits(30), rng.choice(CHANNELS)) for _ in range(200)]
    assert learn_address_map(noise).address_map is None
    assert learn_address_map([(64, "A0"), (128, "A0")]).address_map is None


def test_a_report_with_both_teaches_the_map_of_a_board_without_one():
    rng = random.Random(4)
    pairs = pairs_of([[8, 13], [9, 14]], ["A0", "A1", "B0", "B1"], 200, rng)
    text = "channel,address,bits\n" + "".join(f"{name},{address:X},1\n" for address, name in pairs)
    found = located(text)["address_map"]
    assert found["learned"] == {"select": [[8, 13], [9, 14]], "order": ["A0", "A1", "B0", "B1"]}
    mapped = six(address_map=found["learned"])
    assert located(text, board=mapped)["address_map"] is None


def test_balls_are_named_only_where_the_swap_is_known():
    package = read_package(b"ball,signal,class\nK3,DQ5,signal\nA1,VSS,ground\n", "p")
    site = six().sites[0]
    assert [ball.ball for ball in balls_of(site, (5,), package)] == [None]
    swapped = read_board(json.dumps({**six().document, "sites": [
        {**entry, "dq_swap": [(n + 1) % 32 for n in range(32)]} for entry in six().document["sites"]
    ]}).encode()).sites[0]  # fmt: skip
    assert [(ball.package_line, ball.ball) for ball in balls_of(swapped, (4, 5), package)] == [(5, "K3"), (6, None)]
    for wrong in (b"", b"pin,name\n", b"ball,signal,class\n?,DQ1,signal\n", b"ball,signal,class\nA1,x,odd\n"):
        with pytest.raises(Refusal):
            read_package(wrong, "p")


@given(st.integers(0, 2**31), st.sampled_from(LOCAL_KINDS))
def test_the_virtual_card_writes_what_it_says(seed, kind):
    board = read_board(json.dumps(random_board(np.random.default_rng(seed))).encode())
    met = [place.site for place in places(board.core, board.walk, board.sites) if place.site.fitted]
    wide = [site for site in met if kind != "half" or site.lines == 0xFFFFFFFF]
    if not wide:
        return
    site = wide[seed % len(wide)]
    made = simulate(board, f"{kind}:{site.designator}", 30, seed)
    again = simulate(board, f"{kind}:{site.designator}", 30, seed)
    assert made.report == again.report
    masks = made.rows.expected ^ made.rows.actual
    assert (masks != 0).all()
    assert ((masks & ~site.lines) == 0).all()
    allowed = sum(1 << line for line in made.truth["dq"]) or site.lines
    assert ((masks & ~allowed) == 0).all()
    found = located(made.report, board=board)
    assert found["reports"][0]["errors"] == 30
    assert not any("another channel" in warning for warning in found["warnings"])
    counted = {entry["designator"]: entry["errors"] for entry in found["sites"] if entry["errors"]}
    assert counted == {site.designator: 30} == made.truth["errors"]


@pytest.mark.parametrize(
    "text", ["dq-line", "dq-line:ZZ", "dq-line:M0:40", "rust:M0", "controller", "rail-group:attic"]
)
def test_faults_that_do_not_fit_the_board_are_refused(text):
    with pytest.raises(Refusal) as refused:
        fault_from(six(), text, np.random.default_rng(1))
    assert refused.value.place == "--fault"
