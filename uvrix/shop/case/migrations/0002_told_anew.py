"""What was told of jobs says more now: it is made anew when a job is looked at next."""

from django.db import migrations


def forget(apps, schema_editor):
    apps.get_model("case", "JobTold").objects.all().delete()


class Migration(migrations.Migration):
    dependencies = [("case", "0001_told")]
    operations = [migrations.RunPython(forget, migrations.RunPython.noop)]
