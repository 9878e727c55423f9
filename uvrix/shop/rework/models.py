"""What was done to a card. Rows are added, never changed; one entered by mistake is withdrawn by a later row."""

from __future__ import annotations

from django.db import models

from uvrix.shop.accounts.models import User
from uvrix.shop.jobs.models import JobRow
from uvrix.shop.library.models import BoardModel
from uvrix.shop.look.models import JobPhotograph


class Rework(JobRow):
    """Something done to a site or part (core.rework.events); `chip` is the one worked on, `chip_in` the one that came.

    `air` are phases as {phase, celsius, seconds}; `balls` stencil or hand; `pin1` the corner as the board lay.
    """

    site = models.CharField(max_length=80, blank=True)
    do = models.CharField(max_length=20)
    chip = models.CharField(max_length=120, blank=True, db_index=True)
    chip_in = models.CharField(max_length=120, blank=True, db_index=True)
    alloy_off = models.CharField(max_length=10, blank=True)
    alloy_on = models.CharField(max_length=10, blank=True)
    preheat_c = models.FloatField(null=True)
    air = models.JSONField(default=list)
    minutes = models.FloatField(null=True)
    balls = models.CharField(max_length=8, blank=True)
    ball_mm = models.FloatField(null=True)
    ball_count = models.PositiveIntegerField(null=True)
    shields = models.JSONField(default=list)
    pin1 = models.CharField(max_length=20, blank=True)
    photograph = models.ForeignKey(JobPhotograph, null=True, on_delete=models.PROTECT, related_name="+")
    moved = models.CharField(max_length=200, blank=True)
    result = models.CharField(max_length=200, blank=True)
    note = models.CharField(max_length=400, blank=True)

    class Meta(JobRow.Meta):
        indexes = [models.Index(fields=["job", "site"])]


class ReworkWithdrawal(models.Model):
    """An event that did not happen; it stays in the record and does not count."""

    rework = models.OneToOneField(Rework, on_delete=models.PROTECT, related_name="withdrawal")
    reason = models.CharField(max_length=200)
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)


class ChipLot(JobRow):
    """The lot printed on a chip, as it was read; the newest of a chip counts, wherever it is by then."""

    chip = models.CharField(max_length=120, db_index=True)
    lot = models.CharField(max_length=60)


class PadMarks(JobRow):
    """Pads marked below a chip or the core: state by ball; the newest of each ball counts."""

    designator = models.CharField(max_length=80)
    states = models.JSONField()


class HeatCurve(JobRow):
    """A thermocouple's log, [seconds, degrees Celsius], held against an alloy's window."""

    name = models.CharField(max_length=120)
    alloy = models.CharField(max_length=40)
    samples = models.JSONField()


class ReworkSettings(models.Model):
    """What the shop set: distances, cycles, pad rule, alloys, templates (core.rework.settings); the newest counts."""

    content = models.JSONField()
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["pk"]


class FirmwareImage(models.Model):
    """An image, kept once by its content; `facts` as core.rework.image_file gives them, `source` where it is from."""

    sha256 = models.CharField(max_length=64, primary_key=True)
    data = models.BinaryField()
    name = models.CharField(max_length=120)
    facts = models.JSONField()
    model = models.ForeignKey(BoardModel, null=True, on_delete=models.PROTECT, related_name="images")
    source = models.CharField(max_length=200)
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["at", "pk"]

    @property
    def size(self) -> int:
        """Bytes."""
        return len(self.data)


class ImageRead(JobRow):
    """The card's storage was read; two reads alike in a row make the old image count. Volts are the storage chip's."""

    image = models.ForeignKey(FirmwareImage, on_delete=models.PROTECT, related_name="reads")
    chip_volts = models.FloatField()


class ImageWrite(JobRow):
    """An image was written over the old one; `power_off` says that power was fully off after it."""

    image = models.ForeignKey(FirmwareImage, on_delete=models.PROTECT, related_name="writes")
    old = models.ForeignKey(FirmwareImage, on_delete=models.PROTECT, related_name="+")
    chip_volts = models.FloatField()
    power_off = models.BooleanField()
    result = models.CharField(max_length=20)
    note = models.CharField(max_length=200, blank=True)


class Timer(JobRow):
    """Something that takes its time: curing, cooling, soak; it rings while another job is worked."""

    name = models.CharField(max_length=60)
    kind = models.CharField(max_length=10)
    ends_at = models.DateTimeField()
    stopped_at = models.DateTimeField(null=True)
    stopped_by = models.ForeignKey(User, null=True, on_delete=models.PROTECT, related_name="+")


class CautionSeen(models.Model):
    """A caution that a person acknowledged."""

    user = models.ForeignKey(User, on_delete=models.PROTECT, related_name="cautions")
    key = models.CharField(max_length=20)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        indexes = [models.Index(fields=["user", "key", "at"])]
