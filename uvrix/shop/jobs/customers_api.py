"""Customers: who there is, and which jobs are whose."""

from __future__ import annotations

from typing import Any

from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.shop.accounts.entries import entry_of, person
from uvrix.shop.config.access import EVERYONE, LEAD
from uvrix.shop.jobs.api import MOST_NUMBER
from uvrix.shop.jobs.customers import merge, offered_as
from uvrix.shop.jobs.models import Customer, of_the_shop


class CustomerSerializer(serializers.Serializer[Any]):
    """A customer as one tells them apart."""

    id = serializers.IntegerField()
    name = serializers.CharField()
    contact = serializers.CharField()
    jobs = serializers.IntegerField()
    newest = serializers.CharField()


class Customers(APIView):
    """Customers by name."""

    roles = {"GET": EVERYONE}

    @extend_schema(
        responses=CustomerSerializer(many=True),
        operation_id="customers",
        parameters=[OpenApiParameter("search", OpenApiTypes.STR)],
    )
    def get(self, request: Request) -> Response:
        """Those in whose name or contact a text stands, most jobs first."""
        text = request.query_params.get("search", "").strip()[:120]
        named = Customer.objects.filter(name__icontains=text) | Customer.objects.filter(contact__icontains=text)
        return Response(CustomerSerializer(offered_as(of_the_shop(named, "pk")), many=True).data)


class MergingSerializer(serializers.Serializer[Any]):
    """Two customers that are one."""

    id = serializers.UUIDField()
    into = serializers.IntegerField(min_value=1, max_value=MOST_NUMBER)


class CustomerMerge(APIView):
    """Making two customers one."""

    roles = {"POST": LEAD}

    @extend_schema(request=MergingSerializer, responses=CustomerSerializer)
    def post(self, request: Request, customer: int) -> Response:
        """All jobs of this one go to the other; each keeps whose it was."""
        entry = entry_of(request, MergingSerializer)
        into = get_object_or_404(Customer, pk=entry["into"])
        merge(entry["id"], get_object_or_404(Customer, pk=customer), into, person(request))
        return Response(CustomerSerializer(offered_as(Customer.objects.filter(pk=into.pk))[0]).data)
