"""Addresses of pictures."""

from django.urls import path

from uvrix.shop.pictures.api import OnePicture, Pictures

urlpatterns = [
    path("pictures", Pictures.as_view(), name="pictures"),
    path("pictures/<str:sha256>", OnePicture.as_view(), name="picture"),
]
