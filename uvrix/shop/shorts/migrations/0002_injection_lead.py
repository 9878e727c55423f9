"""The lead that was soldered on for an injection is an act of its own."""

import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("acts", "0001_initial"), ("shorts", "0001_initial")]
    operations = [
        migrations.AddField(
            "injection",
            "lead",
            models.OneToOneField(
                null=True, on_delete=django.db.models.deletion.PROTECT, related_name="injection", to="acts.act"
            ),
        )
    ]
