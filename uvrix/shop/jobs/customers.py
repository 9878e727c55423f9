"""Whose card it is: found by name and contact, asked about where that is not enough, merged and split by the lead."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from uuid import UUID, uuid5

from django.db import IntegrityError, transaction
from django.db.models import Count, QuerySet
from django.utils import timezone

from uvrix.language import gettext
from uvrix.shop.accounts.models import User
from uvrix.shop.config.problems import Problem
from uvrix.shop.jobs.models import Customer, Job, JobCustomer, of_the_shop
from uvrix.shop.jobs.rows import keep_row, own

# This many are offered where somebody is asked which it is.
MOST_OFFERED = 12


@dataclass(frozen=True, slots=True)
class CustomerAnswer:
    """A customer as one tells them apart."""

    id: int
    name: str
    contact: str
    jobs: int
    newest: str


def customer_for(name: str, contact: str, chosen: int | None, *, another: bool) -> Customer:
    """The customer of an entry: the one chosen, else the one of that name and contact, else a new one.

    Raises Problem 409 `which-customer` where others bear the name and nobody said that this is another person; 422
    `no-customer` where the one chosen bears another name.
    """
    name, contact = name.strip(), contact.strip()
    if chosen is not None:
        found = Customer.objects.filter(pk=chosen).first()
        if found is None or found.name.casefold() != name.casefold():
            detail = gettext("found customer {chosen}, expected one named {name}", chosen=chosen, name=repr(name))
            raise Problem(422, "no-customer", detail)
        return found
    # read once: a customer that another entry makes meanwhile is this one, and none to be asked about
    alike = list(of_the_shop(Customer.objects.filter(name__iexact=name), "pk"))
    if same := next((customer for customer in alike if customer.contact.casefold() == contact.casefold()), None):
        return same
    if alike and not another:
        offered = offered_as(Customer.objects.filter(pk__in=[customer.pk for customer in alike]))
        reached = gettext("reached at {contact}", contact=contact) if contact else gettext("without a contact")
        detail = gettext(
            "Which {name} is it? Found {number} of that name, none of them {reached}.",
            name=name,
            number=len(alike),
            reached=reached,
        )
        raise Problem(409, "which-customer", detail, customers=offered)
    return _made(name, contact)


def _made(name: str, contact: str) -> Customer:
    try:
        with transaction.atomic():
            return Customer.objects.create(name=name, contact=contact)
    except IntegrityError:  # another entry made it in the same moment
        return Customer.objects.get(name__iexact=name, contact__iexact=contact)


def offered_as(customers: QuerySet[Customer]) -> list[CustomerAnswer]:
    """Customers to choose between: name, contact, how many jobs, the newest of them."""
    counted = customers.annotate(many=Count("jobs")).order_by("-many", "pk")[:MOST_OFFERED]
    newest = {
        job.customer_id: job.label
        for job in Job.objects.filter(customer__in=[customer.pk for customer in counted]).order_by("pk")
    }
    return [
        CustomerAnswer(
            id=customer.pk,
            name=customer.name,
            contact=customer.contact,
            jobs=customer.many,
            newest=newest.get(customer.pk, ""),
        )
        for customer in counted
    ]


@transaction.atomic
def give_to(job: Job, entry: UUID, customer: Customer, by: User) -> bool:
    """Make a job another customer's, and end the links that the former one has; whether the entry is new."""
    job = Job.objects.select_for_update().get(pk=job.pk)
    if known := JobCustomer.objects.filter(pk=entry).first():
        own(known, job)
        return False
    if job.customer_id == customer.pk:
        raise Problem(
            409, "same-customer", gettext("{label} is {name}'s already.", label=job.label, name=customer.name)
        )
    keep_row(JobCustomer, job, entry, by, before=job.customer, after=customer)
    job.customer = customer
    job.save(update_fields=["customer"])
    # the former customer's letters must not open this card's page any more
    job.customerlink_rows.filter(ended_at=None).update(ended_at=timezone.now())
    return True


@transaction.atomic
def merge(entry: UUID, gone: Customer, into: Customer, by: User) -> Sequence[Job]:
    """Give every job of one customer to another: the two are one person. Each job keeps that it was so."""
    if gone.pk == into.pk:
        raise Problem(422, "same-customer", gettext("found the same customer twice, expected two"))
    jobs = list(gone.jobs.order_by("pk"))
    for job in jobs:
        give_to(job, uuid5(entry, str(job.pk)), into, by)
    return jobs
