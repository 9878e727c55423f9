"""What goes with rework beside the acts: lots, pads, curves, firmware, timers. Rows are added, never changed."""

from __future__ import annotations

from django.db import models

from uvrix.shop.accounts.models import User
from uvrix.shop.acts.models import Act
from uvrix.shop.jobs.models import JobRow
from uvrix.shop.library.models import BoardModel


class ChipLot(JobRow):
    """The lot printed on a chip, as it was read; the newest of a chip counts, wherever it is by then."""

    chip = models.CharField(max_length=120, db_index=True)
    lot = models.CharField(max_length=60)


class PadMarks(JobRow):
    """Pads marked below a chip or the core: state by ball; the newest of each ball counts."""

    at_the_card = True

    designator = models.CharField(max_length=80)
    states = models.JSONField()


class HeatCurve(JobRow):
    """A thermocouple's log, [seconds, degrees Celsius], held against an alloy's window."""

    at_the_card = True

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

    at_the_card = True

    image = models.ForeignKey(FirmwareImage, on_delete=models.PROTECT, related_name="reads")
    chip_volts = models.FloatField()


class ImageWrite(models.Model):
    """What was written by an act `write` over which old image; `power_off` says that power was fully off after it."""

    act = models.OneToOneField(Act, on_delete=models.PROTECT, primary_key=True, related_name="written")
    image = models.ForeignKey(FirmwareImage, on_delete=models.PROTECT, related_name="writes")
    old = models.ForeignKey(FirmwareImage, on_delete=models.PROTECT, related_name="+")
    chip_volts = models.FloatField()
    power_off = models.BooleanField()
    result = models.CharField(max_length=20)


class Timer(JobRow):
    """Something that takes its time: curing, cooling, soak; it rings while another job is worked."""

    at_the_card = True

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
