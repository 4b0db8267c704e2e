"""Where each app's pages begin."""

from django.urls import include, path

urlpatterns = [
    path("", include("emplastra.bench.urls")),
    path("", include("emplastra.accounts.urls")),
    path("air/", include("emplastra.climate.urls")),
    path("materials/", include("emplastra.shelf.urls")),
    path("", include("emplastra.survey.urls")),
    path("", include("emplastra.metal.urls")),
    path("", include("emplastra.work.job_urls")),
    path("", include("emplastra.work.urls")),
    path("", include("emplastra.plans.urls")),
    path("", include("emplastra.record.urls")),
    path("", include("emplastra.tins.urls")),
    path("", include("emplastra.measure.urls")),
    path("", include("emplastra.colour.urls")),
    path("", include("emplastra.days.urls")),
    path("", include("emplastra.handover.urls")),
    path("", include("emplastra.practice.urls")),
    path("", include("emplastra.upkeep.urls")),
    path("", include("emplastra.scales.urls")),
    path("", include("emplastra.shared.urls")),
]

handler400 = "emplastra.shared.views.not_read"
handler404 = "emplastra.shared.views.not_found"
handler500 = "emplastra.shared.views.went_wrong"
