"""Addresses of archives."""

from django.urls import path

from uvrix.shop.archive import api, packs_api

urlpatterns = [
    path("jobs/<int:number>/archive", api.JobArchive.as_view(), name="job-archive"),
    path("archive", api.ShopArchive.as_view(), name="shop-archive"),
    path("backups", api.Backups.as_view(), name="backups"),
    path("library-pack", packs_api.LibraryPack.as_view(), name="library-pack"),
    path("library-pack/compared", packs_api.PackCompared.as_view(), name="library-pack-compared"),
    path("archives", api.Archives.as_view(), name="archives"),
]
