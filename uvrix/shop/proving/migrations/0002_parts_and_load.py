"""Checks said part by part; what a log shows under load, also of the logs that are there."""

from django.db import migrations, models

from uvrix.core.proving.judge import under_load
from uvrix.core.proving.log import Log


def measure(apps, schema_editor):
    """The temperature and the clock under load of every log."""
    nan = float("nan")
    for row in apps.get_model("proving", "ProofLog").objects.iterator(chunk_size=20):
        figures = {name: tuple(nan if one is None else float(one) for one in them) for name, them in row.figures.items()}
        log = Log(tuple(row.seconds), figures)
        row.celsius_loaded, row.mhz_loaded = under_load(log, "celsius"), under_load(log, "mhz")
        row.save(update_fields=["celsius_loaded", "mhz_loaded"])


class Migration(migrations.Migration):

    dependencies = [
        ("proving", "0001_initial"),
    ]

    operations = [
        migrations.AddField("checksaid", "completes", models.BooleanField(default=True)),
        migrations.AddField("checksaid", "part", models.CharField(blank=True, max_length=80)),
        migrations.AddField("prooflog", "celsius_loaded", models.FloatField(null=True)),
        migrations.AddField("prooflog", "mhz_loaded", models.FloatField(null=True)),
        migrations.RunPython(measure, migrations.RunPython.noop),
    ]
