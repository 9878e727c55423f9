"""What was seen of the demo's cards: references, photographs of cards that lost a part, regions looked at."""

from __future__ import annotations

import json
from uuid import NAMESPACE_URL, UUID, uuid5

from uvrix.core.boards.document import read_board
from uvrix.core.look.regions import regions
from uvrix.shop.accounts.models import User
from uvrix.shop.bench.services import drawn_board
from uvrix.shop.jobs.models import Job
from uvrix.shop.look.services import NewFinding, NewPhotograph, Spot, enter_finding, keep_photograph, look_at
from uvrix.shop.pictures.services import take_picture
from uvrix.standins.camera import Light, photograph

PX_PER_MM = 7.0
# Cards by serial: the part that was knocked off, and how many regions were looked at before the lunch break.
LOST = {"TL8-56002": ("C121", 3)}
# Cards that were looked at whole: findings as kind, x, y and note.
WHOLE = {
    "TL8-55871": (("opened-before", 228.0, 96.0, "One screw has a worn cross."),),
    "TL8-55902": (),
}


def with_reference(data: bytes, by: User) -> bytes:
    """A board's file with a photograph of a good card under its drawing."""
    board = read_board(data)
    shot = photograph(board, PX_PER_MM, light=Light(seed=11))
    picture = take_picture(shot.jpeg, f"{board.id}.jpg", by)
    document = {**json.loads(data), "photographs": [shot.entry(picture.sha256)]}
    return json.dumps(document, ensure_ascii=False, indent=1).encode()


def look(job: Job, by: User) -> None:
    """Photographs, regions and findings of a demo job."""
    serial = job.card.serial

    def entry(name: str) -> UUID:
        return uuid5(NAMESPACE_URL, f"uvrix-demo/{serial}/look/{name}")

    if serial in LOST:
        part, many = LOST[serial]
        board = drawn_board(job)
        lamp = Light(lamp=0.78, slope=0.2, seed=job.pk)
        shot = photograph(board, PX_PER_MM * 0.97, 2.0, shift_px=(14.0, -9.0), light=lamp, without=(part,))
        picture = take_picture(shot.jpeg, "front.jpg", by)
        keep_photograph(job, NewPhotograph(entry("front"), picture, "front", "As it came."), by)
    elif serial in WHOLE:
        many = len(regions(drawn_board(job)))
    else:
        return
    for kind, x, y, note in WHOLE.get(serial, ()):
        enter_finding(job, NewFinding(entry(kind), kind, Spot("front", x, y), note), by)
    for region in regions(drawn_board(job))[:many]:
        look_at(job, entry(region.id), region.id, clear=True, by=by)
