"""An act is one row: entered on any screen it gives the same case; taken back, the case without it."""

from __future__ import annotations

import random
from typing import Any
from uuid import uuid4

import pytest

from uvrix.core.case.answer import answer
from uvrix.shop.case.threads import thread
from uvrix.shop.config.roles import Role
from uvrix.shop.jobs.models import Job
from uvrix.shop.jobs.services import NewJob, open_job

READ = {"PL1": "8k7", "PL2": "8k6", "C12": "9k1", "C41": "640", "L9": "42", "L1": "0R54", "L7": "118"}
# An act, and the ways in which each screen that has it enters it.
WAYS: dict[tuple[str, str], dict[str, tuple[str, dict[str, Any]]]] = {
    ("remove", "C116"): {
        "ohms": ("taken-off", {"part": "C116"}),
        "volts": ("tried", {"node": "1v8", "part": "C116", "done": "removed", "came_of": "came-back"}),
        "promise": ("owed", {"kind": "part-off", "words": "Off for now.", "part": "C116"}),
        "rework": ("rework", {"do": "remove", "site": "C116", "no_photo": "at hand", "pin1": "none"}),
    },
    ("swap", "F1"): {
        "ohms": ("fuse-swaps", {"point": "F1", "rating": "10 A", "reason": "It is read again."}),
        "rework": ("rework", {"do": "swap", "site": "F1", "no_photo": "at hand", "pin1": "none"}),
    },
    ("swap", "U71"): {
        "volts": ("tried", {"node": "1v8", "part": "U71", "done": "replaced", "came_of": "came-back"}),
        "rework": ("rework", {"do": "swap", "site": "U71", "no_photo": "at hand", "pin1": "none"}),
    },
    ("lift-coil", "L1"): {
        "promise": ("owed", {"kind": "coil-lifted", "words": "To tell the sides.", "part": "L1"}),
        "rework": ("rework", {"do": "lift-coil", "site": "L1"}),
    },
    ("cut-layers", "U74"): {
        "ohms": ("cut-outs", {"rail": "core", "places": ["U74"]}),
        "rework": ("rework", {"do": "cut-layers", "site": "U74"}),
    },
    ("solder-lead", "L9"): {
        "ohms": ("owed", {"kind": "wire-on", "words": "For injecting.", "part": "L9"}),
        "rework": ("rework", {"do": "solder-lead", "site": "L9"}),
    },
}


@pytest.fixture
def card(people, technician, teal):
    """Opens a card of the model, read cold; gives the job and what posts to it."""

    def opened(serial):
        job = open_job(NewJob(uuid4(), serial, "teal-8", "Una Brack", "Dead."), people[Role.FRONT_DESK])[0]

        def post(room, **body):
            sent = technician.post(f"/api/v1/jobs/{job.pk}/{room}", {"id": str(uuid4()), **body})
            assert sent.status_code in {200, 201}, (room, body, sent.content)
            return sent.json()

        post("power", state="off")
        for point, value in READ.items():
            post("readings", point=point, quantity="resistance", value=value, mode="ohms")
        return job, post

    return opened


def case_of(job):
    """All that follows from a job's case, without who and when."""
    return answer(thread(Job.objects.get(pk=job.pk)).facts)


@pytest.mark.parametrize("act", sorted(WAYS), ids="-".join)
def test_an_act_entered_on_any_screen_gives_the_same_case(card, act):
    found = {}
    for way, (room, body) in WAYS[act].items():
        job, post = card(f"{act[1]}-{way}")
        post(room, **body)
        found[way] = case_of(job)
    first, *others = found.values()
    assert others
    assert all(other == first for other in others)
    assert first["void"], "and what it touches is to be read again"


@pytest.mark.parametrize("seed", range(4))
def test_the_screens_of_several_acts_do_not_matter_and_taking_one_back_gives_the_case_without_it(
    card, technician, seed
):
    dice = random.Random(seed)
    acts = dice.sample(sorted(WAYS), 3)
    gone = dice.choice(acts)
    cases, rows = [], []
    for number, kept in enumerate((acts, acts, [act for act in acts if act != gone])):
        job, post = card(f"S{seed}-{number}")
        for act in kept:
            room, body = WAYS[act][dice.choice(sorted(WAYS[act]))]
            post(room, **body)
        cases.append(case_of(job))
        rows.append(job)
    assert cases[0] == cases[1]
    taken = rows[0].act_rows.get(do=gone[0], site=gone[1])
    back = technician.post(f"/api/v1/acts/{taken.pk}/withdrawal", {"reason": "It was another card."})
    assert back.status_code == 200, back.content
    assert case_of(rows[0]) == cases[2]
