"""Long editing sessions: whatever is done in whatever order, the draft draws, keeps its order, is whole or says why."""

from __future__ import annotations

import copy
import json

from hypothesis import Phase, settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, initialize, invariant, precondition, rule

from tests.conftest import THOROUGH
from tests.core.boards.strategies import BOARDS
from uvrix.core.boards.changes import changes
from uvrix.core.boards.document import read_board
from uvrix.core.boards.draft import draft
from uvrix.core.boards.drawing import draw
from uvrix.core.boards.edit import BLANK, edited, walked
from uvrix.core.boards.walk import places
from uvrix.core.errors import Refusal

NAMES = ("teal-8", "scaup-24", "wigeon-4")
LENGTHS = st.integers(-300, 300).map(lambda tenths: tenths / 10)
STARTS = st.sampled_from(["mark", "opposite-mark", "mark+1", "mark-1"])
DIRECTIONS = st.sampled_from(["clockwise", "counterclockwise"])


class Session(RuleBasedStateMachine):
    """A person at the editor, with undo."""

    def __init__(self):
        super().__init__()
        self.document = {}
        self.past = []

    @initialize(name=st.sampled_from([*NAMES, None]))
    def open(self, name):
        new = {**copy.deepcopy(BLANK), "id": "new", "name": "New"}
        self.document = json.loads((BOARDS / f"{name}.board.json").read_text()) if name else new

    def do(self, **edit):
        before = json.dumps(self.document)
        try:
            after = edited(self.document, edit)
        except Refusal as refusal:
            assert refusal.expected
            assert json.dumps(self.document) == before, "a refused edit changes nothing"
            return False
        assert json.dumps(self.document) == before, "an edit makes a new document"
        self.past.append(self.document)
        self.document = after
        return True

    @property
    def sites(self):
        return self.document.get("sites", [])

    def some(self, data, least=1):
        numbers = data.draw(st.lists(st.integers(0, len(self.sites) - 1), min_size=least, max_size=4, unique=True))
        return [["sites", number] for number in numbers]

    @rule(x=LENGTHS, y=LENGTHS, side=st.sampled_from(["front", "back"]))
    def click_a_chip(self, x, y, side):
        before = [site["designator"] for site in self.sites]
        entry = {"side": side, "x_mm": x + 100, "y_mm": y + 50, "size_mm": [14, 12]}
        assert self.do(do="add", section="sites", entry=entry)
        assert self.sites[-1]["designator"] not in before

    @precondition(lambda self: self.sites)
    @rule(data=st.data(), dx=LENGTHS, dy=LENGTHS)
    def move(self, data, dx, dy):
        self.do(do="move", targets=self.some(data), dx=dx, dy=dy)

    @precondition(lambda self: self.sites)
    @rule(data=st.data())
    def take_away(self, data):
        kept = self.channels()
        targets = self.some(data)
        gone = {self.sites[number]["designator"] for _, number in targets}
        assert self.do(do="remove", targets=targets)
        # who stays keeps the channel, unless the walk meets somebody else first now
        for name, channel in self.channels().items():
            assert name not in gone
            assert channel in (None, kept.get(name))

    @precondition(lambda self: self.sites)
    @rule(data=st.data())
    def double(self, data):
        self.do(do="double", targets=self.some(data), dx=3, dy=-3)

    @rule()
    def twins(self):
        self.do(do="twins")

    @rule(start=STARTS, direction=DIRECTIONS)
    def set_the_walk(self, start, direction):
        assert self.do(do="walk", start=start, direction=direction)

    @precondition(lambda self: self.document.get("walk", {}).get("order"))
    @rule(data=st.data(), channel=st.sampled_from(["A0", "A1", "B0", "B1", ""]))
    def name_a_channel(self, data, channel):
        position = data.draw(st.integers(1, len(self.document["walk"]["order"])))
        assert self.do(do="channel", position=position, channel=channel)
        assert self.document["walk"]["order"][position - 1] == (channel or None)

    @precondition(lambda self: self.sites)
    @rule(first=st.integers(1, 60), prefix=st.sampled_from(["U", "M", "Z"]))
    def number_round(self, first, prefix):
        if self.do(do="number", prefix=prefix, first=first):
            numbers = [int(site["designator"].lstrip("UMZ")) for site in walked(self.document)]
            assert numbers == sorted(numbers)

    @rule(corners=st.lists(st.tuples(LENGTHS, LENGTHS), min_size=2, max_size=5))
    def draw_the_outline(self, corners):
        self.do(do="outline", points=[list(corner) for corner in corners])

    @rule(one=st.tuples(LENGTHS, LENGTHS), other=st.tuples(LENGTHS, LENGTHS))
    def draw_the_core(self, one, other):
        self.do(do="core", corners=[list(one), list(other)])

    @rule(point=st.tuples(LENGTHS, LENGTHS))
    def mark_its_corner(self, point):
        assert self.do(do="mark", point=list(point))

    @precondition(lambda self: self.past)
    @rule()
    def undo(self):
        self.document = self.past.pop()

    def channels(self):
        order = self.document.get("walk", {}).get("order", [])
        return dict(zip([site["designator"] for site in walked(self.document)], order, strict=False))

    @invariant()
    def the_order_has_a_channel_for_each_place(self):
        order = self.document.get("walk", {}).get("order")
        front = [site for site in self.sites if site.get("side", "front") == "front"]
        assert order is None or len(order) == len(front)

    @invariant()
    def the_draft_draws_and_is_whole_or_says_why(self):
        if not self.document:
            return
        found = draft(self.document)
        assert len(draw(found.board).sites) == len(found.board.sites)
        if found.misfits:
            assert all(misfit.expected for misfit in found.misfits)
            return
        board = read_board(json.dumps(self.document).encode())
        if board.walk:
            assert {place.site.designator for place in places(board.core, board.walk, board.sites)} <= set(
                board.by_designator
            )
        assert changes(self.document, json.loads(json.dumps(self.document))) == []


TestLongSessions = Session.TestCase
# shrinking a session takes minutes, and what was done is printed step by step anyway
TestLongSessions.settings = settings(
    max_examples=200 if THOROUGH else 20, stateful_step_count=20, deadline=None, phases=[Phase.generate]
)
