"""Practice touches nothing of the shop: whatever the API answers of it is the same however much was practised."""

from __future__ import annotations

import re
from uuid import UUID, uuid4

import pytest

from tests.api.conftest import OWN_HOST, misfits
from tests.api.test_answers import ASKED, HANDS, UNSEEN, places_of, reads
from uvrix.core.practice.card_file import PracticeCard, card_from
from uvrix.shop.accounts.models import User
from uvrix.shop.archive.graph import DERIVED, shop_models
from uvrix.shop.case.models import JobTold
from uvrix.shop.jobs.models import FIRST_PRACTICE, Card, Customer, Job
from uvrix.shop.jobs.rows import filled
from uvrix.shop.live.models import Presence
from uvrix.shop.offers.models import CustomerLink
from uvrix.shop.practice.models import PracticeJob
from uvrix.shop.practice.services import Begun, begin, end, save_file, throw_away

# Addresses of Practice itself, and answers that are made anew each time: archives and papers bear the time.
OF_PRACTICE = ("practice", "jobs/{number}/practice")
MADE_ANEW = re.compile(r".*(\.pdf|archive|/print|/label)|labels|backups|audit|people.*|session.*|live")
MOST_PLACES, LEAST_ADDRESSES = 3, 30
# Hours that go by while the test runs.
PASSES = re.compile(rb'"too_long_h":[\d.]+')
# Rows that are the frame of a job, not something that happened on it.
FRAME = {Job, Card, Customer, PracticeJob, JobTold, Presence, CustomerLink}


def answers(schema, hand, wanted=None):
    """What every read that one of the tests asks answers, by address: of `wanted` where those are given."""
    found = {}
    for path, operation in reads(schema, hand):
        if path in UNSEEN or path.startswith(OF_PRACTICE) or MADE_ANEW.fullmatch(path):
            continue
        names = [parameter.name for parameter in operation.path_parameters]
        pools = wanted[path] if wanted else list(places_of(path, names))[:MOST_PLACES]
        for places in pools:
            case = operation.Case(path_parameters=places, query=dict(ASKED.get(path, {})))
            answer = case.call(headers=OWN_HOST)
            body = PASSES.sub(b"", answer.content)
            found.setdefault(path, []).append((places, answer.status_code, body))
    return found


def at(body, now):
    """Just before the first difference of two answers."""
    same = next((place for place, pair in enumerate(zip(body, now, strict=False)) if pair[0] != pair[1]), len(body))
    return max(0, same - 120)


def richest(jobs):
    """Some of the jobs on which every kind of row was written that was written on any of them, the fullest first."""
    kinds = [
        model for model in shop_models() if any(field.attname == "job_id" for field in model._meta.concrete_fields)
    ]
    written = {job: filled(kinds, [job.pk]) for job in jobs}
    found, seen = [], set()
    for job in sorted(written, key=lambda each: -len(written[each])):
        if written[job] - seen:
            found.append(job)
            seen |= written[job]
    return found


def copied(real, by):
    """A job of Practice on which everything happened that happened on a real one, by the same rows."""
    card = PracticeCard("copy", "nothing", real.card.model.slug, ("host",), 1)
    job = begin(Begun(uuid4(), card), by)[0]
    made = {}
    for model in shop_models():
        if model in FRAME | DERIVED:
            continue
        own = [field for field in model._meta.concrete_fields if field.is_relation]
        of_job = any(field.name == "job" for field in own)
        parents = [field for field in own if field.one_to_one and field.related_model in {type(row) for row in made}]
        if not (of_job or parents):
            continue
        rows = model._default_manager.filter(job=real) if of_job else model._default_manager.all()
        for row in list(rows):
            if not of_job and not any(getattr(row, field.name) in made for field in parents):
                continue
            made[row] = copy_of(row, own, real, job, made)
    job.complaint, job.closed_at, job.located = real.complaint, real.closed_at, real.located
    job.place, job.due, job.move, job.waits_for = real.place, real.due, real.move, real.waits_for
    job.save()
    return job


def copy_of(row, relations, real, job, made):
    fields = {field.attname: getattr(row, field.attname) for field in row._meta.concrete_fields}
    for field in relations:
        there = getattr(row, field.name)
        if there == real:
            fields[field.attname] = job.pk
        elif there == real.card:
            fields[field.attname] = job.card_id
        elif there is not None and there in made:
            fields[field.attname] = made[there].pk
    for name, value in fields.items():
        if isinstance(value, str) and real.card.serial in value:
            fields[name] = value.replace(real.card.serial, job.card.serial)
    key = row._meta.pk
    if not key.is_relation:
        fields[key.attname] = uuid4() if isinstance(row.pk, UUID) else None
    copy = type(row)(**fields)
    copy.save(force_insert=True)
    return copy


def misfits_of(schema, stands):
    """What the reads of Practice answer that the schema does not say."""
    wrong = {}
    for result in schema.get_all_operations():
        operation = result.ok()
        path = operation.path.removeprefix("/api/v1/")
        if operation.method == "get" and path.startswith(OF_PRACTICE):
            places = {parameter.name: stands[parameter.name] for parameter in operation.path_parameters}
            case = operation.Case(path_parameters=places)
            answer = case.call(headers=OWN_HOST)
            assert answer.status_code == 200, (path, answer.content)
            for said in misfits(case, answer).values():
                wrong[path] = said
    return wrong


@pytest.mark.in_turn(HANDS)
@pytest.mark.parametrize("hand", range(HANDS))
@pytest.mark.filterwarnings("ignore::ResourceWarning", "ignore::pytest.PytestUnraisableExceptionWarning")
@pytest.mark.usefixtures("_left_open")
def test_nothing_of_the_shop_changes_by_practice(schema, hand):
    before = answers(schema, hand)
    # a filter that grew too wide would compare nothing
    assert len(before) > LEAST_ADDRESSES
    asked = {path: [places for places, _, _ in them] for path, them in before.items()}
    by = User.objects.get(username="mirren")
    real = Job.objects.filter(card__model__slug__in=("teal-8", "scaup-24"), pk__lt=FIRST_PRACTICE)
    jobs = [copied(job, by) for job in richest(real)]
    after = answers(schema, hand, asked)
    changed = [
        f"{path} {places}: {body[at(body, body_now) :][:200]!r} became {body_now[at(body, body_now) :][:200]!r}"
        for path, them in before.items()
        for (places, status, body), (_, status_now, body_now) in zip(them, after[path], strict=True)
        if (status, body) != (status_now, body_now)
    ]
    assert changed == []
    end(jobs[0], "no-fix")
    file = save_file(card_from(jobs[0].practice_row.card), by)
    stands = {"number": jobs[0].pk, "place": "U11", "file": str(file.pk)}
    assert misfits_of(schema, stands) == {}
    file.delete()
    for job in jobs:
        throw_away(Job.objects.get(pk=job.pk))
    assert not Job.objects.filter(pk__gte=FIRST_PRACTICE).exists()
    assert not Card.objects.filter(pk__gte=FIRST_PRACTICE).exists()
    assert not PracticeJob.objects.exists()
