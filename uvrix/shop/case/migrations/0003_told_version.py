"""What is told of a job has a version, so that nothing made of older rows is kept."""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("case", "0002_told_anew")]
    operations = [
        migrations.AlterField("jobtold", "content", models.JSONField(null=True)),
        migrations.AddField("jobtold", "version", models.BigIntegerField(default=0)),
    ]
