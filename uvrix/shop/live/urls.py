"""The address that open pages ask."""

from django.urls import path

from uvrix.shop.live import api

urlpatterns = [path("live", api.Live.as_view(), name="live")]
