"""Fuses swapped are acts now (acts.0002 carried them over)."""

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("acts", "0002_carry_over"), ("ohms", "0005_powerstate_bare_powerstate_plugs_in")]
    operations = [migrations.DeleteModel("FuseSwap")]
