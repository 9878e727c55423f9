import django.db.models.deletion
import uuid
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    initial = True

    dependencies = [
        ('jobs', '0007_jobcustomer'),
        ('pictures', '0001_initial'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='Act',
            fields=[
                ('id', models.UUIDField(default=uuid.uuid4, editable=False, primary_key=True, serialize=False)),
                ('at', models.DateTimeField()),
                ('step', models.CharField(max_length=8)),
                ('do', models.CharField(max_length=20)),
                ('site', models.CharField(blank=True, max_length=80)),
                ('chip', models.CharField(blank=True, db_index=True, max_length=120)),
                ('chip_in', models.CharField(blank=True, db_index=True, max_length=120)),
                ('drawer', models.CharField(blank=True, max_length=120)),
                ('alloy_off', models.CharField(blank=True, max_length=10)),
                ('alloy_on', models.CharField(blank=True, max_length=10)),
                ('preheat_c', models.FloatField(null=True)),
                ('air', models.JSONField(default=list)),
                ('minutes', models.FloatField(null=True)),
                ('balls', models.CharField(blank=True, max_length=8)),
                ('ball_mm', models.FloatField(null=True)),
                ('ball_count', models.PositiveIntegerField(null=True)),
                ('shields', models.JSONField(default=list)),
                ('pin1', models.CharField(blank=True, max_length=20)),
                ('moved', models.CharField(blank=True, max_length=200)),
                ('rails', models.JSONField(default=list)),
                ('node', models.CharField(blank=True, max_length=80)),
                ('came_of', models.CharField(blank=True, max_length=12)),
                ('rating', models.CharField(blank=True, max_length=40)),
                ('result', models.CharField(blank=True, max_length=200)),
                ('note', models.CharField(blank=True, max_length=400)),
                ('by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('job', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='%(class)s_rows', to='jobs.job')),
                ('picture', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to='pictures.picture')),
            ],
            options={
                'ordering': ['at', 'pk'],
                'abstract': False,
            },
        ),
        migrations.CreateModel(
            name='ActWithdrawal',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('reason', models.CharField(max_length=200)),
                ('at', models.DateTimeField(auto_now_add=True)),
                ('act', models.OneToOneField(on_delete=django.db.models.deletion.PROTECT, related_name='withdrawal', to='acts.act')),
                ('by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
            ],
        ),
        migrations.CreateModel(
            name='DeclaredPart',
            fields=[
                ('id', models.UUIDField(default=uuid.uuid4, editable=False, primary_key=True, serialize=False)),
                ('at', models.DateTimeField()),
                ('designator', models.CharField(max_length=80)),
                ('kind', models.CharField(blank=True, max_length=40)),
                ('side', models.CharField(blank=True, max_length=5)),
                ('x_mm', models.FloatField(null=True)),
                ('y_mm', models.FloatField(null=True)),
                ('by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('job', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='%(class)s_rows', to='jobs.job')),
            ],
            options={
                'ordering': ['at', 'pk'],
                'abstract': False,
            },
        ),
        migrations.AddIndex(
            model_name='act',
            index=models.Index(fields=['job', 'site'], name='act_of_a_site'),
        ),
        migrations.AddConstraint(
            model_name='declaredpart',
            constraint=models.UniqueConstraint(models.F('job'), models.F('designator'), name='declared_once_a_job'),
        ),
    ]
