"""Addresses of parcels."""

from django.urls import path

from uvrix.shop.parcels import api

urlpatterns = [
    path("parcels", api.Parcels.as_view(), name="parcels"),
    path("parcels/<uuid:parcel>/called-off", api.ParcelCalledOff.as_view(), name="parcel-called-off"),
]
