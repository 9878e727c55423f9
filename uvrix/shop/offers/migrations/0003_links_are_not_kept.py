"""Letters keep a placeholder where the customer's link was: whoever reads a letter must not get in by it."""

from django.db import migrations

LINK = r"https?://\S+/c/[A-Za-z0-9_-]{43}"
TAKE_OUT = "update offers_message set text = regexp_replace(text, %s, '{link}', 'g') where text ~ %s"


def take_out(apps, schema_editor):
    with schema_editor.connection.cursor() as cursor:
        cursor.execute(TAKE_OUT, [LINK, LINK])


class Migration(migrations.Migration):
    dependencies = [("offers", "0002_customerlink_message_messagetemplates_offeranswer")]

    operations = [migrations.RunPython(take_out, migrations.RunPython.noop)]
