"""Letters leave by the worker: none twice, none lost while the mail server is away, none that was not kept."""

from __future__ import annotations

from uuid import uuid4

import pytest

from uvrix.shop.config.roles import Role
from uvrix.shop.offers.models import CustomerLink, Message
from uvrix.shop.offers.services import NewMessage, deliver, found_link, send
from uvrix.shop.offers.tasks import PATIENT, send_letter

ORIGIN = "http://testserver"


@pytest.fixture
def letter(job, people, settings, monkeypatch):
    """A letter with a link, written where a mail server is set; what was left to the worker."""
    settings.EMAIL_HOST = "mail.example.test"
    left = []
    monkeypatch.setattr(send_letter, "defer", lambda **named: left.append(named))
    new = NewMessage(uuid4(), "ansel@example.test", "Your card", "Look: {link}", ORIGIN)
    row, fresh = send(job, new, people[Role.FRONT_DESK])
    assert fresh
    assert send(job, new, people[Role.FRONT_DESK]) == (row, False)
    assert left == [{"message": str(row.pk), "origin": ORIGIN}], "left to the worker once"
    return row


def test_a_letter_is_sent_once_with_a_link_that_is_nowhere_kept(letter, mailoutbox):
    assert letter.sent_at is None
    assert deliver(letter.pk, ORIGIN)
    assert not deliver(letter.pk, ORIGIN), "begun anew after it was sent"
    (sent,) = mailoutbox
    token = sent.body.removeprefix(f"Look: {ORIGIN}/c/")
    assert found_link(token).job_id == letter.job_id
    assert sent.extra_headers["Message-ID"] == f"<{letter.pk}@uvrix.invalid>"
    kept = Message.objects.get()
    assert kept.text == "Look: {link}"
    assert kept.sent_at is not None


def test_a_mail_server_that_is_away_leaves_no_link_and_the_letter_to_be_sent(letter, mailoutbox, monkeypatch):
    def away(*_, **__):
        raise ConnectionRefusedError

    with monkeypatch.context() as patched:
        patched.setattr("django.core.mail.EmailMessage.send", away)
        with pytest.raises(ConnectionRefusedError):
            deliver(letter.pk, ORIGIN)
    assert Message.objects.get().sent_at is None
    assert CustomerLink.objects.count() == 0
    assert deliver(letter.pk, ORIGIN)
    assert len(mailoutbox) == 1


def test_it_is_tried_for_hours_and_not_in_a_hurry():
    waits = [PATIENT.wait + PATIENT.exponential_wait ** (attempt + 1) for attempt in range(PATIENT.max_attempts or 0)]
    assert waits[0] < 60
    assert sum(waits) > 2 * 3600
