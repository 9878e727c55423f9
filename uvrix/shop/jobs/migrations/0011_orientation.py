from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [
        ("jobs", "0010_spelled_words"),
    ]

    operations = [
        migrations.RenameField("job", "lie_side", "orientation_side"),
        migrations.RenameField("job", "lie_turns", "orientation_turns"),
    ]
