"""When a letter left the shop: the worker sends it, once a mail server takes it."""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("offers", "0003_links_are_not_kept")]

    operations = [
        migrations.AddField("message", "sent_at", models.DateTimeField(null=True)),
        # each left as it was written
        migrations.RunSQL("update offers_message set sent_at = at", migrations.RunSQL.noop),
    ]
