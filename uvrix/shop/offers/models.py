"""What a customer is asked, and what they answered. Rows are added, never changed."""

from __future__ import annotations

from django.db import models

from uvrix.shop.accounts.models import User
from uvrix.shop.jobs.models import JobRow


class Offer(JobRow):
    """Options put to the customer: {name, price, chance, consequence, against_advice}; `found` in plain words."""

    title = models.CharField(max_length=120)
    found = models.TextField()
    options = models.JSONField()


class OfferAnswer(models.Model):
    """What the customer chose: the option's number, or None where they declined; `wording` is all that they saw.

    `how` is page, or told where a member of the shop entered it (`by`).
    """

    offer = models.OneToOneField(Offer, on_delete=models.PROTECT, related_name="answer")
    option = models.PositiveSmallIntegerField(null=True)
    name = models.CharField(max_length=120)
    words = models.CharField(max_length=400, blank=True)
    wording = models.TextField()
    how = models.CharField(max_length=8)
    by = models.ForeignKey(User, null=True, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)


class CustomerLink(JobRow):
    """A way to the customer's own page of a job: only the token's hash is kept; it ends by date or by hand."""

    token_sha256 = models.CharField(max_length=64, unique=True)
    expires_at = models.DateTimeField()
    ended_at = models.DateTimeField(null=True)


class Message(JobRow):
    """What was written to a customer; `{link}` stands where their own way to the card's page was, which is not kept."""

    to = models.CharField(max_length=200)
    subject = models.CharField(max_length=200)
    text = models.TextField()
    template = models.CharField(max_length=64, blank=True)
    sent_at = models.DateTimeField(null=True)
    link = ""  # what offers.services.send() made for it, where there is no mail server to send it


class MessageTemplates(models.Model):
    """The shop's templates; the newest counts."""

    content = models.JSONField()
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["pk"]
