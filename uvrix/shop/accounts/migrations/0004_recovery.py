"""One-time links that let a person who is known choose a new password; passes that end when they sign out."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("accounts", "0003_entryseen")]

    operations = [
        migrations.AddField("invitation", "user", models.ForeignKey(
            null=True, on_delete=django.db.models.deletion.PROTECT, related_name="recoveries", to=settings.AUTH_USER_MODEL
        )),
        migrations.AddField("user", "signed_out_at", models.DateTimeField(null=True)),
        migrations.AlterField("invitation", "accepted_by", models.ForeignKey(
            null=True, on_delete=django.db.models.deletion.PROTECT, related_name="invitations", to=settings.AUTH_USER_MODEL
        )),
    ]
