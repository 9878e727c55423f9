"""An act names the board that it was done to: a job may go on with another one."""

import django.db.models.deletion
from django.db import migrations, models

OF_ITS_JOB = "update acts_act set card_id = jobs_job.card_id from jobs_job where jobs_job.id = acts_act.job_id"


class Migration(migrations.Migration):
    dependencies = [
        ("jobs", "0009_jobboard"),
        ("acts", "0002_carry_over"),
    ]

    operations = [
        migrations.AddField(
            model_name="act",
            name="card",
            field=models.ForeignKey(
                null=True, on_delete=django.db.models.deletion.PROTECT, related_name="acts", to="jobs.card"
            ),
        ),
        migrations.RunSQL(OF_ITS_JOB, migrations.RunSQL.noop),
        migrations.RunSQL("set constraints all immediate", migrations.RunSQL.noop),
        migrations.AlterField(
            model_name="act",
            name="card",
            field=models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name="acts", to="jobs.card"),
        ),
    ]
