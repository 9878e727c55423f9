"""Parts tried are acts now (acts.0002 carried them over)."""

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("acts", "0002_carry_over"), ("volts", "0004_supplyoutput")]
    operations = [migrations.DeleteModel("PartTried")]
