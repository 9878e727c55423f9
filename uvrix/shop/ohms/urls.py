"""Addresses of Ohms."""

from django.urls import path

from uvrix.shop.ohms import api, beside_api, chips_api, known_api, meter_api, phone

urlpatterns = [
    path("jobs/<int:number>/ohms", api.JobOhms.as_view(), name="job-ohms"),
    path("jobs/<int:number>/power", api.JobPower.as_view(), name="job-power"),
    path("board-models/<str:slug>/sketch", api.ModelSketch.as_view(), name="board-sketch"),
    path("jobs/<int:number>/photo-points", api.JobPhotoPoints.as_view(), name="job-photo-points"),
    path("jobs/<int:number>/ticks", api.JobTicks.as_view(), name="job-ticks"),
    path("known-good", known_api.KnownGood.as_view(), name="known-good"),
    path("known-good/<int:row>", known_api.OneKnownReading.as_view(), name="known-reading"),
    path("board-models/<str:slug>/known-good", known_api.ModelKnownGood.as_view(), name="model-known-good"),
    path(
        "board-models/<str:slug>/known-good/file", known_api.ModelKnownGoodFile.as_view(), name="model-known-good-file"
    ),
    path("board-models/<str:slug>/known-good/figures", known_api.ModelFigures.as_view(), name="model-figures"),
    path("phone/<str:token>/readings", phone.PhoneReadings.as_view(), name="phone-readings"),
    path("jobs/<int:number>/readings", api.JobReadings.as_view(), name="job-readings"),
    path("jobs/<int:number>/readings/earlier", api.JobEarlierReadings.as_view(), name="job-earlier-readings"),
    path("jobs/<int:number>/sweeps", api.JobSweeps.as_view(), name="job-sweeps"),
    path("jobs/<int:number>/fuse-swaps", api.JobFuseSwaps.as_view(), name="job-fuse-swaps"),
    path("jobs/<int:number>/alike", api.JobAlike.as_view(), name="job-alike"),
    path("jobs/<int:number>/chips", chips_api.JobChips.as_view(), name="job-chips"),
    path("jobs/<int:number>/slot", chips_api.JobSlotContacts.as_view(), name="job-slot"),
    path("board-models/<str:slug>/ball-maps/<str:designator>", chips_api.SiteBallMap.as_view(), name="site-ball-map"),
    path("meters", meter_api.Meters.as_view(), name="meters"),
    path("jobs/<int:number>/beside", beside_api.JobBeside.as_view(), name="job-beside"),
    path("meters/taught", meter_api.TaughtMeters.as_view(), name="meters-taught"),
    path("meters/<int:meter>/heard", meter_api.MeterHeard.as_view(), name="meter-heard"),
    path("meters/<int:meter>/checks", meter_api.MeterChecks.as_view(), name="meter-checks"),
    path("morning-standard", meter_api.MorningStandards.as_view(), name="morning-standard"),
    path("meters/<int:meter>/samples", meter_api.AskMeter.as_view(), name="meter-samples"),
    path(
        "board-models/<str:slug>/reference-cards", known_api.ModelReferenceCards.as_view(), name="model-reference-cards"
    ),
    path("reference-cards/<uuid:reference>", known_api.OneReferenceCard.as_view(), name="reference-card"),
    path(
        "reference-cards/<uuid:reference>/photographs",
        known_api.ReferencePhotographs.as_view(),
        name="reference-photographs",
    ),
]
