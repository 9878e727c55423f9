"""What was seen of the powered card beside its readings. Rows are added, never changed."""

from __future__ import annotations

from django.db import models

from uvrix.shop.accounts.models import User
from uvrix.shop.jobs.models import JobRow


class Supply(models.Model):
    """A bench supply that answers at an address."""

    name = models.CharField(max_length=40, unique=True)
    address = models.CharField(max_length=120)
    added_by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    added_at = models.DateTimeField(auto_now_add=True)


class StartCurve(JobRow):
    """The current at a start, as a supply logged it: `samples` are [seconds, volts, amperes] since it was switched on.

    `left_on` says whether the output stayed on; `says` what the curve shows.
    """

    supply = models.ForeignKey(Supply, on_delete=models.PROTECT, related_name="+")
    volts = models.FloatField()
    limit_amps = models.FloatField()
    samples = models.JSONField()
    left_on = models.BooleanField()
    says = models.CharField(max_length=240)


class SupplyOutput(JobRow):
    """A supply's output that was to go on: kept before it does, so that one that stays on is known of.

    `state` follows what became of it; `watched_at` is when a page that shows it last said so.
    """

    class State(models.TextChoices):
        """What is known of the output."""

        ASKED = "asked", "being switched on"
        ON = "on", "on"
        OFF = "off", "off"
        UNKNOWN = "unknown", "may be on"

    supply = models.ForeignKey(Supply, on_delete=models.PROTECT, related_name="+")
    volts = models.FloatField()
    limit_amps = models.FloatField()
    state = models.CharField(max_length=8, choices=State.choices, default=State.ASKED)
    watched_at = models.DateTimeField()
    ended_at = models.DateTimeField(null=True, blank=True)
    why = models.CharField(max_length=200, blank=True)

    class Meta:
        constraints = [
            models.CheckConstraint(
                condition=models.Q(state="off", ended_at__isnull=False)
                | (~models.Q(state="off") & models.Q(ended_at=None)),
                name="output_off_has_its_time",
            )
        ]
        indexes = [models.Index(fields=["supply"], condition=models.Q(ended_at=None), name="output_not_off")]


class FirstDraw(JobRow):
    """What the card drew on the supply: amperes, the volts and the limit that were set."""

    volts = models.FloatField()
    amps = models.FloatField()
    limit_amps = models.FloatField(null=True)
    note = models.CharField(max_length=200, blank=True)


class Rung(JobRow):
    """How far the card came in a computer: a rung of the detection ladder; `picture_of` says whose picture it is."""

    at_the_card = True

    rung = models.CharField(max_length=8)
    picture_of = models.CharField(max_length=8, blank=True)
    beep = models.CharField(max_length=40, blank=True)
    beep_seconds = models.FloatField(null=True)
    note = models.CharField(max_length=200, blank=True)


class PhaseSeen(JobRow):
    """What was read at a phase: kilohertz (0: it does not switch), degrees Celsius. The newest of each counts."""

    at_the_card = True

    designator = models.CharField(max_length=64)
    khz = models.FloatField(null=True)
    celsius = models.FloatField(null=True)


class RailLoad(JobRow):
    """What a rail draws, in amperes, while its phases are compared."""

    at_the_card = True

    rail = models.CharField(max_length=64)
    amps = models.FloatField()
