"""Ids of entries that were seen are a table of accounts now (accounts.0003)."""

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("accounts", "0003_entryseen"), ("jobs", "0007_jobcustomer")]
    operations = [migrations.SeparateDatabaseAndState(state_operations=[migrations.DeleteModel("EntrySeen")])]
