"""Addresses of what customers are asked and told."""

from django.urls import path

from uvrix.shop.offers import api

urlpatterns = [
    path("jobs/<int:number>/offers", api.JobOffers.as_view(), name="job-offers"),
    path("offers/<uuid:offer>/answer", api.OfferAnswered.as_view(), name="offer-answer"),
    path("jobs/<int:number>/messages", api.JobMessages.as_view(), name="job-messages"),
    path("jobs/<int:number>/message-draft", api.JobMessageDraft.as_view(), name="job-message-draft"),
    path("jobs/<int:number>/links", api.JobLinks.as_view(), name="job-links"),
    path("mailbox", api.Mailbox.as_view(), name="mailbox"),
    path("message-templates", api.ShopTemplates.as_view(), name="message-templates"),
]
