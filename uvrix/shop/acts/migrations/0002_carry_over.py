"""What was done to cards, from the tables of six screens into one; a promise about a part becomes the act it was."""

import uuid

from django.db import migrations

ALIKE = (
    *("id", "job_id", "by_id", "at", "do", "site", "chip", "chip_in", "alloy_off", "alloy_on", "preheat_c", "air"),
    *("minutes", "balls", "ball_mm", "ball_count", "shields", "pin1", "moved", "result", "note"),
)
TRIED = {"replaced": "swap", "renewed": "renew-joint", "removed": "remove"}
BEGUN = {"part-off": "remove", "wire-on": "solder-lead", "coil-lifted": "lift-coil"}
ENDED = {"part-off": "place", "wire-on": "unsolder-lead", "coil-lifted": "fit-coil"}


def carry_over(apps, schema_editor):
    model = apps.get_model
    acts = model("acts", "Act").objects
    rework(model, acts)
    screens(model, acts)
    promises(model, acts)
    name_the_parts(acts)
    for waiver in model("promises", "Waiver").objects.filter(key__startswith="rework:"):
        waiver.key = f"act:{waiver.key.removeprefix('rework:')}"
        waiver.save(update_fields=["key"])


def rework(model, acts):
    made = (
        acts.model(
            step="rework",
            picture_id=row.photograph.picture_id if row.photograph else None,
            **{name: getattr(row, name) for name in ALIKE},
        )
        for row in model("rework", "Rework").objects.select_related("photograph").iterator()
    )
    acts.bulk_create(made, batch_size=1000)
    for row in model("rework", "ReworkWithdrawal").objects.iterator():
        taken = model("acts", "ActWithdrawal").objects.create(act_id=row.rework_id, reason=row.reason, by_id=row.by_id)
        model("acts", "ActWithdrawal").objects.filter(pk=taken.pk).update(at=row.at)


def screens(model, acts):
    """What Ohms, the hunt, Volts and firmware kept of their own."""
    for row in model("shorts", "TakenOff").objects.iterator():
        acts.create(**said(row), step="ohms", do="remove", site=row.part, rails=row.rails, note=row.note)
    for row in model("shorts", "CutOut").objects.iterator():
        for number, place in enumerate(row.phases):
            who = {**said(row), "id": uuid.uuid5(row.pk, place) if number else row.pk}
            acts.create(**who, step="ohms", do="cut-layers", site=place, rails=[row.rail], note=row.note)
    for row in model("ohms", "FuseSwap").objects.iterator():
        note = f"Although its rail was short: {row.reason}" if row.reason else ""
        acts.create(**said(row), step="ohms", do="swap", site=row.point, rating=row.rating, note=note)
    for row in model("volts", "PartTried").objects.iterator():
        tried = {"do": TRIED.get(row.done, "swap"), "site": row.part, "node": row.node, "came_of": row.came_of}
        acts.create(**said(row), step="volts", note=row.note, **tried)
    for row in model("rework", "ImageWrite").objects.iterator():
        acts.create(**said(row), step="rework", do="write", note=row.note)


def promises(model, acts):
    """Parts off, leads on, coils lifted: what was promised of a part was an act, and keeping it another."""
    waivers, injections = model("promises", "Waiver").objects, model("shorts", "Injection").objects
    events = {}
    for table, kind in (("shorts.TakenOff", "part-off"), ("look.LookFinding", "part-off")):
        for key in model(*table.split(".")).objects.values_list("pk", flat=True):
            events[uuid.uuid5(key, kind)] = (table, key)
    wires = {uuid.uuid5(key, "wire-on"): key for key in injections.filter(wire=True).values_list("pk", flat=True)}
    for row in model("promises", "Promise").objects.filter(kind__in=list(BEGUN)).exclude(part="").order_by("at"):
        table, event = events.get(row.pk, ("", None))
        key = f"act:{event or row.pk}" if table != "look.LookFinding" else f"lookfinding:{event}"
        off = acts.filter(job=row.job_id, site=row.part, at__lte=row.at, do__in=["remove", "place", "swap", "cut-layers"])
        last = off.order_by("at").last()
        gone = row.kind == "part-off" and last is not None and last.do in {"remove", "cut-layers"}
        if not table and not gone:
            acts.create(**said(row), step="ohms", do=BEGUN[row.kind], site=row.part, note=row.words)
        if row.pk in wires:
            injections.filter(pk=wires[row.pk]).update(lead_id=row.pk)
        kept = model("promises", "PromiseKept").objects.filter(promise=row.pk).first()
        if kept:
            end(acts, row, kept)
            kept.delete()
        waivers.filter(key=str(row.pk)).update(key=key)
        row.delete()


def end(acts, row, kept):
    """What was promised is done, unless an act on the part has ended it already."""
    since = acts.filter(job=row.job_id, site=row.part, at__gt=row.at, at__lte=kept.at)
    if row.kind == "part-off" and since.filter(do__in=["place", "swap", "cut-layers"]).exists():
        return
    who = {"id": uuid.uuid5(row.pk, "kept"), "job_id": row.job_id, "by_id": kept.by_id, "at": kept.at}
    acts.create(**who, step="ohms", do=ENDED[row.kind], site=row.part)


def name_the_parts(acts):
    """The part that each act worked on, where its own table did not say: the one that the card came with."""
    unnamed = acts.filter(chip="", do__in=["remove", "swap", "renew-joint"]).exclude(site="").exclude(step="rework")
    for row in unnamed.select_related("job__card"):
        own = f"{row.job.card.serial}/{row.site}"
        came = acts.filter(job__card=row.job.card_id, site=row.site, at__lt=row.at, do__in=["place", "swap"])
        newest = came.order_by("at").last()
        row.chip = newest.chip_in if newest else own
        row.save(update_fields=["chip"])
    for row in acts.filter(do="place", chip_in="").exclude(step="rework").select_related("job__card"):
        taken = acts.filter(job=row.job_id, site=row.site, do="remove", at__lte=row.at).order_by("at").last()
        if taken:  # the same one, as it counted so far
            row.chip_in = taken.chip
            row.save(update_fields=["chip_in"])


def said(row):
    return {"id": row.pk, "job_id": row.job_id, "by_id": row.by_id, "at": row.at}


class Migration(migrations.Migration):
    dependencies = [
        ("acts", "0001_initial"),
        ("look", "0002_jobphotograph_before_jobphotograph_finding_and_more"),
        ("ohms", "0005_powerstate_bare_powerstate_plugs_in"),
        ("promises", "0001_initial"),
        ("rework", "0002_repair_edited_migrations"),
        ("shorts", "0002_injection_lead"),
        ("volts", "0004_supplyoutput"),
    ]
    operations = [migrations.RunPython(carry_over, migrations.RunPython.noop)]
