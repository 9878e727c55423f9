"""Ids of entries that were seen are kept with the people who enter them; the table stays where it is."""

import django.db.models.functions.datetime
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("accounts", "0002_accountevent"), ("jobs", "0005_entryseen")]
    operations = [
        migrations.SeparateDatabaseAndState(
            state_operations=[
                migrations.CreateModel(
                    "EntrySeen",
                    [
                        ("id", models.UUIDField(primary_key=True, serialize=False)),
                        ("digest", models.BinaryField()),
                        (
                            "at",
                            models.DateTimeField(
                                db_default=django.db.models.functions.datetime.Now(), db_index=True
                            ),
                        ),
                    ],
                    options={"db_table": "jobs_entryseen"},
                )
            ]
        )
    ]
