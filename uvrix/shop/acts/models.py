"""What was done to a card. Rows are added, never changed; one entered by mistake is withdrawn by a later row."""

from __future__ import annotations

from django.db import models

from uvrix.shop.jobs.models import Card, JobRow, Withdrawal
from uvrix.shop.pictures.models import Picture


class Act(JobRow):
    """Something done to a site or part (core.rework.acts), entered on the screen `step`, on the board that was `card`.

    `chip` is the part worked on, `chip_in` the one that came, each by its label, or `drawer` the label of the counted
    stock that it was taken from; `air` are phases as {phase, celsius, seconds}; `balls` stencil or hand; `pin1` the
    corner as the board lay; `picture` was taken before lifting. `rails` are those that it was done for, `node` the
    start-up node, `came_of` what came of it there; `rating` is that of a fuse. `way` is how a contact was
    put right (core.rework.acts.WAYS), `cures_minutes` how long its glue takes.
    """

    at_the_card = True

    card = models.ForeignKey(Card, on_delete=models.PROTECT, related_name="acts")
    step = models.CharField(max_length=8)
    do = models.CharField(max_length=20)
    site = models.CharField(max_length=80, blank=True)
    chip = models.CharField(max_length=120, blank=True, db_index=True)
    chip_in = models.CharField(max_length=120, blank=True, db_index=True)
    drawer = models.CharField(max_length=120, blank=True, db_index=True)
    alloy_off = models.CharField(max_length=10, blank=True)
    alloy_on = models.CharField(max_length=10, blank=True)
    preheat_c = models.FloatField(null=True)
    air = models.JSONField(default=list)
    minutes = models.FloatField(null=True)
    way = models.CharField(max_length=8, blank=True)
    cures_minutes = models.FloatField(null=True)
    balls = models.CharField(max_length=8, blank=True)
    ball_mm = models.FloatField(null=True)
    ball_count = models.PositiveIntegerField(null=True)
    shields = models.JSONField(default=list)
    pin1 = models.CharField(max_length=20, blank=True)
    picture = models.ForeignKey(Picture, null=True, on_delete=models.PROTECT, related_name="+")
    moved = models.CharField(max_length=200, blank=True)
    rails = models.JSONField(default=list)
    node = models.CharField(max_length=80, blank=True)
    came_of = models.CharField(max_length=12, blank=True)
    rating = models.CharField(max_length=40, blank=True)
    result = models.CharField(max_length=200, blank=True)
    note = models.CharField(max_length=400, blank=True)

    class Meta(JobRow.Meta):
        indexes = [models.Index(fields=["job", "site"], name="act_of_a_site")]


class ActWithdrawal(Withdrawal):
    """An act that did not happen; it stays in the record and does not count."""

    act = models.OneToOneField(Act, on_delete=models.PROTECT, related_name="withdrawal")
    reason = models.CharField(max_length=200)


class DeclaredPart(JobRow):
    """A part of the card that its model lacks, named once, with its place in millimetres of the board or unknown."""

    at_the_card = True

    designator = models.CharField(max_length=80)
    kind = models.CharField(max_length=40, blank=True)
    side = models.CharField(max_length=5, blank=True)
    x_mm = models.FloatField(null=True)
    y_mm = models.FloatField(null=True)

    class Meta(JobRow.Meta):
        constraints = [models.UniqueConstraint("job", "designator", name="declared_once_a_job")]
