"""Customers: who there is, and which jobs are whose."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated
from uuid import UUID

from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.shop.accounts.entries import entry_of, person
from uvrix.shop.config.access import EVERYONE, LEAD
from uvrix.shop.config.limits import MOST_NUMBER
from uvrix.shop.config.shapes import given, shape
from uvrix.shop.jobs.customers import CustomerAnswer, merge, offered_as
from uvrix.shop.jobs.models import Customer, of_the_shop


class Customers(APIView):
    """Customers by name."""

    roles = {"GET": EVERYONE}

    @extend_schema(
        responses=shape(CustomerAnswer)(many=True),
        operation_id="customers",
        parameters=[OpenApiParameter("search", OpenApiTypes.STR)],
    )
    def get(self, request: Request) -> Response:
        """Customers whose name or contact holds a text, most jobs first."""
        text = request.query_params.get("search", "").strip()[:120]
        named = Customer.objects.filter(name__icontains=text) | Customer.objects.filter(contact__icontains=text)
        return Response(offered_as(of_the_shop(named, "pk")))


@dataclass(frozen=True, slots=True)
class MergingRequest:
    """Two customers that are one."""

    id: UUID
    into: Annotated[int, given(min_value=1, max_value=MOST_NUMBER)]


class CustomerMerge(APIView):
    """Making two customers one."""

    roles = {"POST": LEAD}

    @extend_schema(request=shape(MergingRequest), responses=shape(CustomerAnswer))
    def post(self, request: Request, customer: int) -> Response:
        """All jobs of this one go to the other; each keeps whose it was."""
        entry = entry_of(request, MergingRequest)
        into = get_object_or_404(Customer, pk=entry.into)
        merge(entry.id, get_object_or_404(Customer, pk=customer), into, person(request))
        return Response(offered_as(Customer.objects.filter(pk=into.pk))[0])
