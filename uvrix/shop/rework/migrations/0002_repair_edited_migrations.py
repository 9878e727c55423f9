"""A table that the first migration made only after it had been edited in place.

Data begun before the edit has the migration marked as applied without it, and failed on every page of Rework and Stock.
Published migrations are not edited any more (tests/checks/test_migrations.py).
"""

from django.db import migrations


def make_what_is_missing(apps, schema_editor):
    with schema_editor.connection.cursor() as cursor:
        tables = schema_editor.connection.introspection.table_names(cursor)
    lots = apps.get_model("rework", "ChipLot")
    if lots._meta.db_table not in tables:
        schema_editor.create_model(lots)


class Migration(migrations.Migration):
    dependencies = [("rework", "0001_initial")]
    operations = [migrations.RunPython(make_what_is_missing, migrations.RunPython.noop)]
