"""What is known of the demo's cards before they are opened: symptoms, and tests with things exchanged."""

from __future__ import annotations

from uuid import NAMESPACE_URL, UUID, uuid5

from uvrix.shop.accounts.models import User
from uvrix.shop.arrive.services import (
    NewEvidence,
    NewIntake,
    NewReproduction,
    NewSymptom,
    NewTrial,
    add_evidence,
    enter_reproduction,
    enter_trial,
    say_symptom,
    take_in,
)
from uvrix.shop.jobs.models import Job

# By serial: how often, what the shop sees, since when, when, kinds; then the cells that were tried.
SYMPTOMS = {
    "TL8-56002": (
        (
            "always",
            "No picture on any output; fans at full speed from the first second.",
            "Moved house.",
            ("cold start",),
            ("no-picture",),
        ),
        (("own", True, 1), ("computer", True, 1)),
    ),
    "TL8-55871": (
        (
            "often",
            "Coloured blocks after an hour of load, then it hangs.",
            "For two months, growing.",
            ("warm", "under load"),
            ("artefacts", "hangs"),
        ),
        (("own", True, 2), ("lead", True, 2), ("computer", True, 2)),
    ),
}


def arrive(job: Job, by: User) -> None:
    """The symptom and the trials of a demo job."""
    serial = job.card.serial
    if serial not in SYMPTOMS:
        return

    def entry(name: str) -> UUID:
        return uuid5(NAMESPACE_URL, f"uvrix-demo/{serial}/arrive/{name}")

    came = "card and power lead"
    take_in(job, NewIntake(entry("parcel"), serial, "used", "whole", came), by)
    words = "No trace of liquid; fans replaced by ourselves last year."
    add_evidence(job, NewEvidence(entry("owner"), "repair", "the customer", words), by)
    (often, seen, began, conditions, kinds), trials = SYMPTOMS[serial]
    say_symptom(job, NewSymptom(entry("symptom"), often, seen, began, conditions, kinds), by)
    for cell, shows, tries in trials:
        enter_trial(job, NewTrial(entry(cell), cell, shows, tries), by)
    called_up = NewReproduction(entry("called up"), "the shop's usual scene", 12.0, "as the customer says")
    enter_reproduction(job, called_up, by)
