"""Cards whose board nobody has drawn, from parcel to parcel: two photographs, the bench plan, and no drawing."""

from __future__ import annotations

from pathlib import Path

import pytest

from tests.api.conftest import small_picture
from tests.browser.expecting import expect
from tests.browser.test_proving import Api, number_of
from uvrix.core.boards.document import read_board
from uvrix.standins.camera import photograph

pytestmark = [pytest.mark.browser, pytest.mark.in_turn(2)]
KNOT = read_board((Path(__file__).parents[2] / "data/boards/wigeon-4.board.json").read_bytes())
SHOTS = {"front": photograph(KNOT, 3.0), "back": photograph(KNOT, 2.9)}
VOUCHED = "every input and fuse"


class Card:
    """A card of a model that nobody has drawn, and what a technician does with it."""

    def __init__(self, bench, serial, name, symptom="dead", *, open_new=True):
        bench.sign_in("lead")
        self.bench, self.page, self.api = bench, bench.page, Api(bench)
        self.serial, self.fields = serial, 0
        # serial, model, what is printed on it, customer, complaint, and the press that opens it
        self.at = bench.new_job(serial, name=name) if open_new else bench.new_job(serial, model=name)
        self.number = number_of(self.at)
        self.fields += 6
        self.model = self.api.get(f"jobs/{self.number}")["board_model"]
        self.symptom = symptom

    def arrive(self):
        self.api.post(f"jobs/{self.number}/symptom", kinds=[self.symptom], often="always")

    def photographed(self):
        page = self.page
        self.bench.go(f"{self.at}/look")
        for many, side in enumerate(("front", "back"), 1):
            page.get_by_label("What it shows").select_option(side)
            picture = {"name": f"{side}.jpg", "mimeType": "image/jpeg", "buffer": SHOTS[side].jpeg}
            page.get_by_test_id("job-photograph").set_input_files(picture)
            pictures = f"{many} picture" + ("s" if many > 1 else "")
            expect(page.get_by_role("link", name="Look")).to_contain_text(pictures)

    def looked(self):
        """Every part of both photographs, none with anything wrong on it."""
        self.bench.load(f"{self.at}/look")
        regions = self.page.get_by_role("list", name="Regions").get_by_role("listitem")
        expect(regions.first).to_be_visible()
        many = regions.count()
        assert many == 16, "four columns and two rows on either side"
        expect(self.page.locator("[data-region]")).to_be_visible()
        for number in range(1, many + 1):
            self.page.get_by_role("button", name="Nothing here").click()
            if number < many:
                expect(self.page.get_by_role("link", name="Look")).to_contain_text(f"{number} of {many}")
        expect(self.page.get_by_role("heading", name="Both sides looked at")).to_be_visible()

    def unplugged(self):
        self.bench.go(f"{self.at}/ohms")
        self.page.get_by_role("button", name="It is unplugged and discharged").click()
        expect(self.page.get_by_test_id("reading")).to_be_visible()

    def reads(self, point, value):
        """A cold reading of the point in turn."""
        field = self.page.get_by_test_id("reading")
        expect(field.get_by_role("heading")).to_have_text(point)
        field.get_by_label("value").fill(value)
        self.page.keyboard.press("Enter")
        expect(self.page.get_by_test_id("said")).to_contain_text(point)

    def cold(self, **values):
        """Readings entered beside the screen."""
        for point, value in values.items():
            self.api.post(f"jobs/{self.number}/readings", point=point, value=value, quantity="resistance", mode="ohms")

    def click_photograph(self, x, y):
        """Click at a share of the photograph's width and height."""
        self.bench.click_photograph((x * SHOTS["front"].width_px, y * SHOTS["front"].height_px))

    def next(self):
        first = self.api.get(f"jobs/{self.number}")["mind"]["next"][0]
        return first["do"], first["target"]

    def strip(self):
        return self.page.get_by_test_id("next-step")

    def proven_and_gone(self, found):
        """One check said, photographed as it leaves, and off it goes."""
        one = {"id": "outputs", "kind": "hand", "name": "Each output", "fails": "no picture"}
        put = self.page.request.put(
            f"{self.bench.served.address}/api/v1/board-models/{self.model}/proof",
            data={"document": {"checks": [one]}, "base": 0},
            headers=self.api.headers,
        )
        assert put.ok, put.text()
        self.api.post(f"jobs/{self.number}/proof/checks", check_id="outputs", passed=True, note="All three.")
        self.photographed_again()
        self.bench.load(f"{self.at}/return")
        expect(self.page.get_by_role("heading", name="It may leave", exact=True)).to_be_visible()
        expect(self.page.get_by_test_id("make-model")).to_contain_text("Nobody has drawn")
        self.page.get_by_label("what was found").fill(found)
        self.page.get_by_role("button", name="It leaves").click()
        expect(self.page.get_by_test_id("gone")).to_contain_text("Left by parcel")

    def photographed_again(self):
        for side in ("front", "back"):
            self.api.post(f"jobs/{self.number}/photographs", sha256=self.api_picture(), side=side)

    def api_picture(self):
        answer = self.page.request.post(
            f"{self.bench.served.address}/api/v1/pictures",
            multipart={"file": {"name": "as-it-leaves.png", "mimeType": "image/png", "buffer": small_picture()}},
            headers=self.api.headers,
        )
        assert answer.ok, answer.text()
        return answer.json()["sha256"]

    def swap(self, site, chip_in=""):
        asked = {"site": site, "chip_in": chip_in, "pin1": "none", "no_photo": "On the bench photograph."}
        self.api.post(f"jobs/{self.number}/rework", do="swap", **asked)

    def vouched(self):
        self.api.post(f"jobs/{self.number}/ticks", point=VOUCHED)


def test_a_short_on_an_input_from_arrive_to_return(bench):
    card = Card(bench, "KN6-1", "Knot 6")
    page = card.page
    # the first useful verdict: six fields to open it, Ohms, unplugged, the value, Enter
    card.unplugged()
    card.reads("slot 12 V", "0R4")
    card.fields += 4
    assert card.fields <= 12
    expect(page.get_by_test_id("said")).to_contain_text("a short, whatever the board")
    card.arrive()
    card.photographed()
    bench.go(f"{card.at}/ohms")
    card.reads("slot 3.3 V", "640")
    # the hunt: fed, seen on the photograph, named, taken off
    bench.load(f"{card.at}/ohms/shorts")
    expect(page.get_by_test_id("hunt-step")).to_contain_text("Inject 0.5 V into slot 12 V")
    feed = page.get_by_test_id("inject")
    feed.get_by_label("volts at the board").fill("0.5")
    feed.get_by_label("amperes").fill("1.2")
    feed.get_by_role("button", name="Into the log").click()
    page.get_by_role("button", name="Where it glowed").click()
    card.click_photograph(0.6, 0.4)
    name = page.get_by_test_id("name-spot")
    name.get_by_label("printed beside it").fill("Q7")
    name.get_by_role("button", name="Name it").click()
    expect(page.get_by_test_id("hunt-step")).to_contain_text("Q7 stands where it warmed")
    expect(page.get_by_test_id("warm")).to_be_visible()
    bench.check_access()
    page.get_by_test_id("hunt-step").get_by_role("button", name="Q7 is off").click()
    expect(page.get_by_test_id("taken-off")).to_contain_text("Q7, while slot 12 V read short")
    bench.go(f"{card.at}/ohms")
    expect(page.get_by_test_id("again")).to_contain_text("slot 12 Vslot 3.3 V")
    card.reads("slot 12 V", "9k1")
    card.reads("slot 3.3 V", "640")
    assert card.next() == ("swap", "Q7"), "the short left with it: another one"
    card.api.post(f"jobs/{card.number}/rework", do="place", site="Q7", chip_in="NEW-7")
    card.cold(**{"slot 12 V": "9k1", "slot 3.3 V": "640"})
    card.vouched()
    assert card.next()[0] == "power"
    card.proven_and_gone("A power stage had failed.")


def test_a_missing_supply_from_arrive_to_return(bench):
    card = Card(bench, "KN7-1", "Knot 7")
    page = card.page
    card.arrive()
    card.photographed()
    card.looked()
    card.unplugged()
    card.reads("slot 12 V", "9k1")
    card.reads("slot 3.3 V", "640")
    card.vouched()
    card.api.post(f"jobs/{card.number}/power", state="supply", plugs_in=True)
    card.api.post(f"jobs/{card.number}/draws", volts=12, amps=0.2, limit_amps=1.0)
    # the usual order of start, each node with its own click on the photograph
    bench.load(f"{card.at}/volts")
    expect(page.get_by_text("Nobody has drawn this board: the usual order of start")).to_be_visible()
    seen = {"5 V": "5.02", "1.8 V": "0.0", "slot 12 V": "12.1", "slot 3.3 V": "3.3"}
    for _ in range(5):
        do, target = card.next()
        if do != "read" or page.get_by_test_id("volt-field").count() == 0:
            break
        field = page.get_by_test_id("volt-field")
        expect(field.get_by_role("heading")).to_have_text(target)
        field.get_by_role("textbox").first.fill(seen.get(target, "0.0"))
        page.keyboard.press("Enter")
        expect(page.get_by_test_id("volt-said")).to_contain_text(target)
    told = card.api.get(f"jobs/{card.number}/case")["causes"][0]
    assert (told["cause"], told["designators"]) == ("dead-part", [])
    assert "1.8 V" in told["why"][0]
    assert told["chance"] < 0.95, "the order is lent"
    # its converter is found and named on the photograph: the belief has a part
    bench.go(f"{card.at}/ohms")
    card.api.post(f"jobs/{card.number}/power", state="off")
    pictures = card.api.get(f"board-models/{card.model}")["photographs"]
    front = next(picture["sha256"] for picture in pictures if picture["side"] == "front")
    spot = {"side": "front", "picture": front}
    card.api.post(
        f"jobs/{card.number}/photo-points", name="U501", kind="part", node="1.8 V", x_px=300, y_px=120, **spot
    )
    named = card.api.get(f"jobs/{card.number}/case")["causes"][0]
    assert named["designators"] == ["U501"]
    bench.load(f"{card.at}/rework")
    page.get_by_role("button", name="To the front").click()
    expect(page.locator("[data-named='U501']")).to_be_visible()
    card.api.post(
        f"jobs/{card.number}/rework", do="swap", site="U501", chip_in="NEW-501", pin1="none", no_photo="Seen."
    )
    card.cold(**{"slot 12 V": "9k1", "slot 3.3 V": "640"})
    card.proven_and_gone("The converter of 1.8 V had failed.")
    # the second card of the model is asked nothing that the first one taught
    second = Card(bench, "KN7-2", card.model, open_new=False)
    names = {point["name"] for point in second.api.get(f"jobs/{second.number}/ohms")["points"] if point["picture"]}
    assert "U501" in names


def test_a_blown_fuse_from_arrive_to_return(bench):
    card = Card(bench, "KN8-1", "Knot 8")
    page = card.page
    card.arrive()
    card.photographed()
    card.unplugged()
    card.reads("slot 12 V", "9k1")
    card.reads("slot 3.3 V", "640")
    # a click names the fuse; it is read across, then on both its sides
    expect(page.get_by_test_id("reading").get_by_role("heading")).not_to_have_text("slot 3.3 V")
    page.get_by_role("button", name="Name something else").click()
    expect(page.get_by_test_id("naming")).to_contain_text("to name it")
    card.click_photograph(0.4, 0.7)
    name = page.get_by_test_id("name-spot")
    name.get_by_label("kind").select_option("fuse")
    name.get_by_label("printed beside it").fill("F1")
    name.get_by_role("button", name="Name it").click()
    expect(page.locator("[data-named='F1']")).to_be_visible()
    card.api.post(f"jobs/{card.number}/readings", point="F1", value="OL", quantity="resistance", mode="ohms")
    assert card.next() == ("read", "F1.1")
    bench.load(f"{card.at}/ohms")
    card.reads("F1.1", "9k1")
    card.reads("F1.2", "8k7")
    assert card.next() == ("swap", "F1"), "nothing behind it is short"
    card.swap("F1")
    card.cold(**{"slot 12 V": "9k1", "slot 3.3 V": "640", "F1": "0R02"})
    card.proven_and_gone("A fuse had blown.")


def test_failing_memory_from_arrive_to_return(bench):
    card = Card(bench, "KN9-1", "Knot 9", "artefacts")
    page = card.page
    card.arrive()
    card.photographed()
    bench.go(f"{card.at}/memory")
    report = "channel,errors\nA0,0\nA1,412\nB0,0\nB1,0\n"
    page.get_by_test_id("report-file").set_input_files(
        {"name": "run.csv", "mimeType": "text/csv", "buffer": report.encode()}
    )
    expect(bench.finding).to_contain_text("A1")
    expect(card.strip()).to_contain_text("Draw this board")
    # the chips are found by eye on this card: channel A1 is M2 by the shop's own counting
    card.api.post(f"jobs/{card.number}/rework", do="reball", site="M2", pin1="none", no_photo="Seen.")
    card.api.post(f"jobs/{card.number}/power", state="off")
    card.cold(**{"slot 12 V": "9k1", "slot 3.3 V": "640"})
    card.proven_and_gone("A joint of a memory chip had cracked.")
