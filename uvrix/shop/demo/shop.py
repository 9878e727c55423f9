"""Fills an empty database with the demo shop, by the same services that the screens use."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import timedelta
from uuid import NAMESPACE_URL, uuid5

from django.conf import settings
from django.utils import timezone

from uvrix.core.boards.document import read_board
from uvrix.core.boards.model import Board
from uvrix.shop.accounts.models import User
from uvrix.shop.config.roles import Role
from uvrix.shop.demo.arrive import arrive
from uvrix.shop.demo.figures import counted
from uvrix.shop.demo.look import look, with_reference
from uvrix.shop.demo.mended import MENDED, Mended, mended_job
from uvrix.shop.demo.ohms import chips, good_card, hunt, meters, slot
from uvrix.shop.demo.past import PAST, PastJob, past_job
from uvrix.shop.demo.proving import proven
from uvrix.shop.demo.record import left_overnight
from uvrix.shop.demo.rework import limits, reworked
from uvrix.shop.demo.runs import DemoRun, drop_run, mark_chip
from uvrix.shop.demo.stock import stocked
from uvrix.shop.demo.teardown import parcels, sheets, taken_apart
from uvrix.shop.demo.times import spread
from uvrix.shop.demo.volts import pinouts, powered
from uvrix.shop.jobs.services import NewJob, open_job, set_orientation
from uvrix.shop.library.models import BoardModel
from uvrix.shop.library.services import (
    import_board,
    import_family,
    import_package,
    import_reader,
    import_recipe,
    name_unknown_board,
)
from uvrix.shop.ohms.services import import_known
from uvrix.shop.pictures.services import take_picture
from uvrix.shop.planning.services import NewAttempt, enter_attempt
from uvrix.shop.shelf.queries import shelf
from uvrix.standins.camera import photograph

DATA = settings.ROOT / "data"
BOARDS = ("wigeon-4", "shoveler-6", "garganey-8", "teal-8", "pintail-12", "gadwall-16", "scaup-24")
PHOTOGRAPHED = frozenset({"teal-8"})


@dataclass(frozen=True, slots=True)
class Person:
    """Someone who can sign in to the demo."""

    username: str
    name: str
    role: Role
    password: str


PEOPLE = (
    Person("mirren", "Mirren Tarn", Role.TECHNICIAN, "heron-at-low-tide"),
    Person("odile", "Odile Fenn", Role.FRONT_DESK, "parcels-before-noon"),
    Person("casper", "Casper Holm", Role.LEAD, "lamp-over-the-bench"),
)


@dataclass(frozen=True, slots=True)
class DemoJob:
    """A job of the demo; `days` ago it came, `runs` were dropped on it in that order."""

    serial: str
    board: str
    customer: str
    complaint: str
    days: float
    place: str = ""
    express: bool = False
    move: str = "hands"
    waits_for: str = ""
    due_in: int | None = None
    runs: tuple[DemoRun, ...] = ()
    mark: str = ""
    orientation: tuple[str, int] = ("front", 0)
    tried: tuple[tuple[str, str, float], ...] = ()
    undrawn: str = ""


JOBS = (
    DemoJob("WG4-20117", "wigeon-4", "Ansel Roe", "No picture since I moved house.", 21, "D3", move="part",
            waits_for="Power plug ordered from Kelda Parts, due on Monday", due_in=3),
    DemoJob("SC24-0093", "scaup-24", "Lowen Computers", "Renders stop with an error after an hour, every time.", 16, "C1",
            runs=(DemoRun("cold", "cells:U38", 150), DemoRun("warm", "cells:U38", 320)), orientation=("back", 1)),
    DemoJob("TL8-55210", "teal-8", "Petra Quill", "Green squares in every game.", 14, "D1", move="customer",
            waits_for="One chip or all eight of a suspect lot? Asked on Friday", due_in=1,
            runs=(DemoRun("cold", "controller:C", 180),)),
    DemoJob("GG8-31876", "garganey-8", "Bram Osier", "Worked until the update, then lines on the screen.", 11, "B3",
            runs=(DemoRun("warm", "byte-lane:M8:8", 160),), mark="M8"),
    DemoJob("TL8-55871", "teal-8", "Isolde Marsh", "Runs an hour, then coloured blocks and it hangs.", 9, "C3", express=True,
            runs=(DemoRun("cold", "dq-line:U15:13", 214), DemoRun("warm", "dq-line:U15:13", 208),
                  DemoRun("flexed up", "dq-line:U15:13", 223), DemoRun("pressed U15", "dq-line:U15:13", 201))),
    DemoJob("TL8-56002", "teal-8", "Corin Vale", "Black screen, fans at full speed.", 8, "A1"),
    DemoJob("WG4-20544", "wigeon-4", "Nerys Loch", "Came back from another shop; they could not say why.", 7, "A2",
            runs=(DemoRun("warm", says="# result: pass\n# condition: warm\nchannel\n"),)),
    DemoJob("GG8-32014", "garganey-8", "Tobin Reave", "Crashes when the house is cold.", 6, "B1",
            runs=(DemoRun("cold", says="# result: refused\n# refusal: wrong-index\n# condition: cold\nchannel\n"),), orientation=("front", 2)),
    DemoJob("GG8-32190", "garganey-8", "Lowen Computers", "Customer says: artefacts, then reboot.", 5, "B2",
            runs=(DemoRun("cold", "half:M1:16", 505, layout="tally"),)),
    DemoJob("SC24-0121", "scaup-24", "Hale Studio", "Does not start with both leads in.", 4, "C2", move="customer",
            waits_for="Quote sent; the card is worth less than the work", due_in=6),
    DemoJob("TL8-56377", "teal-8", "Maren Skye", "Bought broken. Snow on the screen.", 2, "A4"),
    DemoJob("TL8-56390", "teal-8", "Maren Skye", "Its cooler comes in a second parcel.", 1, move="courier",
            waits_for="The cooler, sent by itself", due_in=1),
    DemoJob("TL8-55902", "teal-8", "Hale Studio", "Goes black when I move the case.", 10, "C4",
            runs=(DemoRun("cold", says="# result: pass\n# condition: cold\nchannel\n"),
                  DemoRun("flexed up", "joint:U12", 96), DemoRun("flexed down", says="# result: pass\n# condition: flexed down\nchannel\n"),
                  DemoRun("pressed U12", "joint:U12", 41, layout="text-lines"))),
    DemoJob("SM6-00415", "", "Wick & Daughter", "Coloured snow after a few minutes.", 3, "B4", undrawn="smew-6",
            runs=(DemoRun("cold", "dq-line:M5:9", 188),)),
    DemoJob("TL8-54100", "teal-8", "Ansel Roe", "Pink lines, then it hangs.", 30, "D2", move="customer",
            waits_for="Repaired and proven; collects it on Saturday", due_in=4,
            runs=(DemoRun("cold", "dq-line:U13:22", 140),), mark="U13", tried=(("measure-lines", "yes", 12), ("reball", "yes", 47))),
    DemoJob("TL8-54388", "teal-8", "Tobin Reave", "Chequered picture since the summer.", 26, "D4", move="part",
            waits_for="A memory chip of the same kind, from a donor", due_in=2,
            runs=(DemoRun("cold", "half:U16:0", 260),), mark="U16", tried=(("reball", "no", 55),)),
)  # fmt: skip


def fill() -> None:
    """People, what the library holds, and jobs; expects an empty database."""
    people = {person.role: _person(person) for person in PEOPLE}
    for slug in BOARDS:
        path = DATA / "boards" / f"{slug}.board.json"
        data = path.read_bytes()
        data = with_reference(data, people[Role.LEAD]) if slug in PHOTOGRAPHED else data
        import_board(data, path.name, people[Role.LEAD])
    for path in sorted((DATA / "families").glob("*.family.json")):
        import_family(path.read_bytes(), path.name, people[Role.LEAD])
    for path in sorted((DATA / "recipes").glob("*.recipe.json")):
        import_recipe(path.read_bytes(), path.name, people[Role.LEAD])
    for path in sorted((DATA / "packages").glob("*.csv")):
        import_package(path.read_bytes(), path.stem, people[Role.LEAD])
    for path in sorted((DATA / "readers").glob("*.reader.json")):
        import_reader(path.read_bytes(), path.name, people[Role.LEAD])
    sheets(people[Role.LEAD])
    for path in sorted((DATA / "known").glob("*.known.csv")):
        import_known(path.read_bytes(), path.name, people[Role.LEAD])
    meters(people[Role.LEAD])
    pinouts(people[Role.TECHNICIAN])
    limits(people[Role.LEAD])
    good_card(BoardModel.objects.get(slug="teal-8"), people[Role.TECHNICIAN], people[Role.LEAD])
    closed: list[PastJob | Mended] = sorted((*PAST, *MENDED), key=lambda job: -job.days)
    for job in closed:
        if isinstance(job, Mended):
            mended_job(job, people[Role.FRONT_DESK], people[Role.TECHNICIAN])
        else:
            past_job(job, people[Role.FRONT_DESK], people[Role.TECHNICIAN])
    for demo in JOBS:
        _job(demo, people[Role.FRONT_DESK], people[Role.TECHNICIAN])
    stocked(people[Role.LEAD], people[Role.TECHNICIAN])
    proven(people[Role.LEAD], people[Role.TECHNICIAN], people[Role.FRONT_DESK])
    counted(people[Role.TECHNICIAN])
    parcels(people[Role.FRONT_DESK])
    shelf()  # what each card's case tells is worked out once, before anybody looks


def _person(person: Person) -> User:
    first, _, last = person.name.partition(" ")
    user = User(username=person.username, first_name=first, last_name=last, role=person.role)
    user.set_password(person.password)
    user.save()
    return user


def _job(demo: DemoJob, desk: User, technician: User) -> None:
    opened = timezone.now() - timedelta(days=demo.days)
    model = _undrawn(demo.undrawn, desk) if demo.undrawn else demo.board
    entry = uuid5(NAMESPACE_URL, f"uvrix-demo/{demo.serial}")
    new = NewJob(entry, demo.serial, model, demo.customer, demo.complaint, "", demo.place, demo.express)
    job, _ = open_job(new, desk, opened)
    job.move, job.waits_for = demo.move, demo.waits_for
    job.due = timezone.localdate() + timedelta(days=demo.due_in) if demo.due_in is not None else None
    job.save()
    set_orientation(job, *demo.orientation)
    for number, run in enumerate(demo.runs):
        drop_run(job, run, technician, number, _board(demo))
    if demo.mark:
        mark_chip(job, demo.mark, technician)
    arrive(job, technician)
    look(job, technician)
    taken_apart(job, technician)
    hunt(job, technician)
    chips(job, technician)
    slot(job, technician)
    powered(job, technician)
    reworked(job, technician)
    for number, (do, outcome, minutes) in enumerate(demo.tried):
        attempt = NewAttempt(uuid5(NAMESPACE_URL, f"uvrix-demo/{demo.serial}/{do}"), do, outcome, minutes)
        enter_attempt(job, attempt, technician, opened + timedelta(days=1, hours=number))
    left_overnight(job, technician)
    spread(job)


def _board(demo: DemoJob) -> Board:
    """The board of the virtual card: the library's, or one that the shop sees for the first time."""
    if demo.undrawn:
        return read_board((DATA / "virtual" / f"{demo.undrawn}.board.json").read_bytes())
    return read_board((DATA / "boards" / f"{demo.board}.board.json").read_bytes())


def _undrawn(name: str, by: User) -> str:
    """A board that is named and photographed and not drawn yet."""
    board = read_board((DATA / "virtual" / f"{name}.board.json").read_bytes())
    model = name_unknown_board(board.name)
    shot = photograph(board, turn_deg=1.6)
    picture = take_picture(shot.jpeg, f"{name}.jpg", by)
    model.pictures.create(side="front", picture=picture, added_by=by)
    return model.slug
