"""Readings and what goes with them. Rows are added, never changed; a later reading of a point corrects a former."""

from __future__ import annotations

from django.db import models

from uvrix.shop.accounts.models import User
from uvrix.shop.jobs.models import JobRow
from uvrix.shop.pictures.models import Picture


class PowerState(JobRow):
    """How the card stands: off (unplugged and discharged), supply, computer. The newest counts.

    Of a card that is on: all its plugs were said to be in; `bare` where it stands without its cooler.
    """

    state = models.CharField(max_length=8)
    plugs_in = models.BooleanField(default=False)
    bare = models.BooleanField(default=False)


# What is clicked on a photograph of a board that nobody has drawn.
POINT_KINDS = {"pad": "a point to probe", "fuse": "a fuse", "coil": "a coil", "part": "a part", "plug": "a plug"}


class PhotoPoint(JobRow):
    """A point clicked on a photograph where no board is drawn; it moves over when one is drawn over that photograph.

    `kind` is what was clicked (POINT_KINDS); `node` the node of the bench plan that it is, or that its part makes.
    """

    at_the_card = True

    name = models.CharField(max_length=64)
    kind = models.CharField(max_length=8, default="pad")
    node = models.CharField(max_length=80, blank=True)
    side = models.CharField(max_length=5)
    picture = models.ForeignKey(Picture, on_delete=models.PROTECT, related_name="+")
    x_px = models.FloatField()
    y_px = models.FloatField()

    class Meta(JobRow.Meta):
        constraints = [models.UniqueConstraint(fields=["job", "name"], name="one_point_a_name")]


class Meter(models.Model):
    """A bench meter; `lead_ohms` is what its leads read held together, `address` where it answers, if it does.

    `reader` is the meter reader's document of one that prints lines over a serial port.
    """

    name = models.CharField(max_length=40, unique=True)
    lead_ohms = models.FloatField(default=0.0)
    address = models.CharField(max_length=120, blank=True)
    reader = models.JSONField(null=True)
    added_by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    added_at = models.DateTimeField(auto_now_add=True)


class Reading(JobRow):
    """What a meter read; `low` and `high` in the quantity's own unit, both null where it showed over-limit.

    `text` is as the meter showed it; of ohms, `lead_ohms` of its leads are taken off in `low` and `high`. `point` is a
    point, rail or node of the model, a pair `A/B`, or a point clicked on a photograph.
    """

    at_the_card = True

    point = models.CharField(max_length=130)
    to = models.CharField(max_length=8)
    quantity = models.CharField(max_length=12)
    mode = models.CharField(max_length=12, blank=True)
    text = models.CharField(max_length=40)
    low = models.FloatField(null=True)
    high = models.FloatField(null=True)
    polarity = models.CharField(max_length=5, blank=True)
    meter = models.ForeignKey(Meter, null=True, on_delete=models.PROTECT, related_name="+")
    lead_ohms = models.FloatField(default=0.0)
    condition = models.JSONField(default=list)
    note = models.CharField(max_length=200, blank=True)

    class Meta(JobRow.Meta):
        indexes = [models.Index(fields=["job", "point"])]


class Sweep(JobRow):
    """A pass over all rails begins: what is read from now on belongs to it, until the next begins."""

    at_the_card = True

    name = models.CharField(max_length=60)


class ReferenceCard(models.Model):
    """A good card whose readings were captured as a whole set; `board` is its model's id."""

    id = models.UUIDField(primary_key=True)
    board = models.CharField(max_length=64, db_index=True)
    card = models.CharField(max_length=80)
    note = models.CharField(max_length=200, blank=True)
    photographs = models.ManyToManyField(Picture, through="ReferencePhotograph")
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["at", "pk"]
        constraints = [models.UniqueConstraint(fields=["board", "card"], name="one_set_a_card")]


class ReferencePhotograph(models.Model):
    """A side of a reference card."""

    reference = models.ForeignKey(ReferenceCard, on_delete=models.PROTECT, related_name="sides")
    side = models.CharField(max_length=5)
    picture = models.ForeignKey(Picture, on_delete=models.PROTECT, related_name="+")
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)


class KnownReading(models.Model):
    """A reading of a card that is known to be good; `board` is a model's id, which need not be in the library.

    Rows are added; a wrong one is taken out of the library by the lead and stays in the record.
    """

    board = models.CharField(max_length=64, db_index=True)
    card = models.CharField(max_length=80)
    point = models.CharField(max_length=130)
    to = models.CharField(max_length=8)
    quantity = models.CharField(max_length=12)
    mode = models.CharField(max_length=12, blank=True)
    text = models.CharField(max_length=40)
    low = models.FloatField(null=True)
    high = models.FloatField(null=True)
    polarity = models.CharField(max_length=5, blank=True)
    meter = models.CharField(max_length=40, blank=True)
    source = models.CharField(max_length=200)
    entry = models.UUIDField(null=True, unique=True)
    reference = models.ForeignKey(ReferenceCard, null=True, on_delete=models.PROTECT, related_name="readings")
    added_by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    added_at = models.DateTimeField(auto_now_add=True)
    out_by = models.ForeignKey(User, null=True, on_delete=models.PROTECT, related_name="+")
    out_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["pk"]


class Tick(JobRow):
    """A fuse or input that was looked at by hand on either side; `skipped` says why it was not, where it was not."""

    at_the_card = True

    point = models.CharField(max_length=64)
    skipped = models.CharField(max_length=200, blank=True)


class MorningStandard(models.Model):
    """What meters are held against in the morning: a resistor, a good card at one of its points. The newest counts.

    `tolerance` is a share, the meter's own included.
    """

    resistor_ohms = models.FloatField(null=True)
    tolerance = models.FloatField(default=0.02)
    reference = models.ForeignKey(ReferenceCard, null=True, on_delete=models.PROTECT, related_name="+")
    point = models.CharField(max_length=130, blank=True)
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["at", "pk"]


class MeterCheck(models.Model):
    """A meter checked: leads held together, the reference resistor, the known-good card; as the meter showed it."""

    id = models.UUIDField(primary_key=True)
    meter = models.ForeignKey(Meter, on_delete=models.PROTECT, related_name="checks")
    kind = models.CharField(max_length=8)
    text = models.CharField(max_length=40)
    low = models.FloatField(null=True)
    high = models.FloatField(null=True)
    passed = models.BooleanField()
    says = models.CharField(max_length=240)
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["at", "pk"]
        indexes = [models.Index(fields=["meter", "kind", "at"])]
