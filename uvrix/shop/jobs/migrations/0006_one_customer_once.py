"""Customers that parallel entries made several times, of one name and one contact, become one."""

from django.db import migrations
from django.db.models import Count, Min
from django.db.models.functions import Upper


def merge_same(apps, schema_editor):
    Customer, Job = apps.get_model("jobs", "Customer"), apps.get_model("jobs", "Job")
    told = Customer.objects.annotate(upper_name=Upper("name"), upper_contact=Upper("contact"))
    several = told.values("upper_name", "upper_contact").annotate(many=Count("pk"), first=Min("pk")).filter(many__gt=1)
    for group in list(several):
        same = told.filter(upper_name=group["upper_name"], upper_contact=group["upper_contact"])
        others = list(same.exclude(pk=group["first"]).values_list("pk", flat=True))
        Job.objects.filter(customer__in=others).update(customer=group["first"])
        Customer.objects.filter(pk__in=others).delete()


class Migration(migrations.Migration):
    dependencies = [("jobs", "0005_entryseen")]
    operations = [migrations.RunPython(merge_same, migrations.RunPython.noop)]
