"""Rework and its withdrawals are acts now, and a write of firmware says what goes with one (acts.0002 carried over)."""

import django.db.models.deletion
from django.db import migrations, models


def carry_over(apps, schema_editor):
    new = apps.get_model("rework", "ImageWrite")
    for row in apps.get_model("rework", "OldImageWrite").objects.order_by("at").iterator():
        new.objects.create(
            act_id=row.pk,
            image_id=row.image_id,
            old_id=row.old_id,
            chip_volts=row.chip_volts,
            power_off=row.power_off,
            result=row.result,
        )


class Migration(migrations.Migration):
    dependencies = [("acts", "0002_carry_over"), ("rework", "0002_repair_edited_migrations")]
    operations = [
        migrations.RenameModel("ImageWrite", "OldImageWrite"),
        migrations.CreateModel(
            "ImageWrite",
            [
                (
                    "act",
                    models.OneToOneField(
                        on_delete=django.db.models.deletion.PROTECT,
                        primary_key=True,
                        related_name="written",
                        serialize=False,
                        to="acts.act",
                    ),
                ),
                ("chip_volts", models.FloatField()),
                ("power_off", models.BooleanField()),
                ("result", models.CharField(max_length=20)),
                (
                    "image",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT, related_name="writes", to="rework.firmwareimage"
                    ),
                ),
                (
                    "old",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT, related_name="+", to="rework.firmwareimage"
                    ),
                ),
            ],
        ),
        migrations.RunPython(carry_over, migrations.RunPython.noop),
        migrations.DeleteModel("OldImageWrite"),
        migrations.DeleteModel("ReworkWithdrawal"),
        migrations.DeleteModel("Rework"),
    ]
