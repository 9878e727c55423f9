"""Addresses of Stock."""

from django.urls import path

from uvrix.shop.stock import api, judging_api

urlpatterns = [
    path("stock", api.StockParts.as_view(), name="stock"),
    path("stock/life", api.PartLife.as_view(), name="part-life"),
    path("stock/label", api.PartLabels.as_view(), name="part-label"),
    path("stock/moves", api.StockMoves.as_view(), name="stock-moves"),
    path("stock/sought", api.PartsSought.as_view(), name="parts-sought"),
    path("stock/substitutes", judging_api.Substitutes.as_view(), name="substitutes"),
    path("stock/bearers", judging_api.MarkingBearers.as_view(), name="marking-bearers"),
    path("stock/lots", judging_api.Lots.as_view(), name="lots"),
    path("stock/donors", judging_api.Donors.as_view(), name="donors"),
    path("stock/set-moves", judging_api.SetMoves.as_view(), name="set-moves"),
    path("stock-settings", judging_api.ShopStock.as_view(), name="stock-settings"),
    path("cards/<str:serial>/parts", api.CardParts.as_view(), name="card-parts"),
    path("cards/<str:serial>/inspections", judging_api.CardInspections.as_view(), name="card-inspections"),
    path("board-models/<str:slug>/values", judging_api.ModelValues.as_view(), name="model-values"),
    path("part-values/<uuid:value>/withdrawal", judging_api.ValueWithdrawn.as_view(), name="value-withdrawal"),
    path("jobs/<int:number>/fits", judging_api.JobFits.as_view(), name="job-fits"),
    path("jobs/<int:number>/one-or-all", judging_api.JobOneOrAll.as_view(), name="job-one-or-all"),
]
