"""A job whose card lives on another board."""

import uuid

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
        ("jobs", "0008_entryseen_moved"),
    ]

    operations = [
        migrations.CreateModel(
            name="JobBoard",
            fields=[
                ("id", models.UUIDField(default=uuid.uuid4, editable=False, primary_key=True, serialize=False)),
                ("at", models.DateTimeField()),
                (
                    "after",
                    models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name="+", to="jobs.card"),
                ),
                (
                    "before",
                    models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name="+", to="jobs.card"),
                ),
                (
                    "by",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT, related_name="+", to=settings.AUTH_USER_MODEL
                    ),
                ),
                (
                    "job",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="%(class)s_rows",
                        to="jobs.job",
                    ),
                ),
            ],
            options={"ordering": ["at", "pk"], "abstract": False},
        ),
    ]
