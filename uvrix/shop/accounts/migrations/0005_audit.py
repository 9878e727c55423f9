"""Who did what, when and from where."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('accounts', '0004_recovery'),
    ]

    operations = [
        migrations.CreateModel(
            name='AuditEntry',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('at', models.DateTimeField(auto_now_add=True)),
                ('method', models.CharField(max_length=8)),
                ('route', models.CharField(max_length=60)),
                ('path', models.CharField(max_length=300)),
                ('job', models.BigIntegerField(null=True)),
                ('status', models.PositiveSmallIntegerField()),
                ('address', models.CharField(blank=True, max_length=45)),
                ('request', models.CharField(blank=True, max_length=64)),
                ('user', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'ordering': ['-pk'],
                'indexes': [models.Index(fields=['user', '-id'], name='accounts_au_user_id_ea7307_idx'), models.Index(fields=['job', '-id'], name='accounts_au_job_902634_idx'), models.Index(fields=['at'], name='accounts_au_at_7cbe85_idx')],
            },
        ),
    ]
