"""Parts taken off and layers cut out are acts now (acts.0002 carried them over)."""

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("acts", "0002_carry_over"), ("shorts", "0002_injection_lead")]
    operations = [
        migrations.RemoveField("injection", "wire"),
        migrations.DeleteModel("TakenOff"),
        migrations.DeleteModel("CutOut"),
    ]
