"""The job map, the survey, findings, contractors, parts, what is put off."""

from django.urls import path, register_converter

from . import (
    contractor_views,
    file_views,
    finding_views,
    map_views,
    mesh_views,
    register_views,
    survey_views,
)


class Stage:
    """A pass of the survey."""

    regex = "found|bared"

    def to_python(self, value):
        return value

    def to_url(self, value):
        return str(value)


register_converter(Stage, "stage")

app_name = "survey"
urlpatterns = [
    path("jobs/<int:pk>/", map_views.job_page, name="map"),
    path("jobs/<int:pk>/map.svg", map_views.map_svg, name="map-svg"),
    path("jobs/<int:pk>/labels", map_views.labels, name="labels"),
    path("jobs/<int:pk>/layout", map_views.StartLayout.as_view(), name="layout"),
    path("zones/<int:pk>/acts", map_views.zone_acts, name="acts"),
    path("zones/<int:pk>/change", map_views.zone_change, name="change"),
    path("zones/<int:pk>/place", map_views.PlaceZone.as_view(), name="place"),
    path("zones/<int:pk>/place/preview", map_views.place_output, name="place-preview"),
    path("zones/<int:pk>/duplicate", map_views.DuplicateZone.as_view(), name="duplicate"),
    path("zones/<int:pk>/mirror", map_views.MirrorZone.as_view(), name="mirror"),
    path("zones/<int:pk>/split", map_views.SplitZone.as_view(), name="split"),
    path("zones/<int:pk>/join", map_views.JoinZones.as_view(), name="join"),
    path("zones/<int:pk>/retire", map_views.RetireZone.as_view(), name="retire"),
    path("zones/<int:pk>/bring-back", map_views.bring_back, name="bring-back"),
    path("zones/<int:pk>/spot-of", map_views.SpotOf.as_view(), name="spot-of"),
    path("zones/<int:pk>/spot", map_views.OpenSpot.as_view(), name="spot"),
    path("zones/<int:pk>/mesh", mesh_views.SendMesh.as_view(), name="send-mesh"),
    path("meshes/<int:pk>/", mesh_views.TakeMesh.as_view(), name="mesh"),
    path("meshes/<int:pk>/area", mesh_views.mesh_area, name="mesh-area"),
    path("jobs/<int:pk>/survey", survey_views.start, name="start"),
    path("zones/<int:pk>/survey/<stage:stage>", survey_views.Sheet.as_view(), name="sheet"),
    path("zones/<int:pk>/photo", survey_views.AddPhoto.as_view(), name="add-photo"),
    path("photos/<int:pk>/<slug:size>", survey_views.photo, name="photo"),
    path("zones/<int:pk>/more", survey_views.FoundMore.as_view(), name="more"),
    path("jobs/<int:pk>/findings", finding_views.findings, name="findings"),
    path("findings/<int:pk>/", finding_views.FindingPage.as_view(), name="finding"),
    path("zones/<int:pk>/finding/<slug:key>", finding_views.finding_of, name="finding-of"),
    path("contractor/", contractor_views.contractor, name="contractor"),
    path("jobs/<int:pk>/parts", register_views.Parts.as_view(), name="parts"),
    path("parts/<int:pk>/word", register_views.part_word, name="part-word"),
    path("zones/<int:pk>/put-off", register_views.PutOff.as_view(), name="put-off"),
    path("put-off/", register_views.put_offs, name="put-offs"),
    path("put-off/<int:pk>/look", register_views.Look.as_view(), name="look"),
    path("jobs/<int:pk>/report", file_views.report, name="report"),
    path("jobs/<int:pk>/survey.<slug:kind>", file_views.export, name="export"),
    path("jobs/<int:pk>/survey/file", file_views.TakeIn.as_view(), name="take-in"),
    path("survey-schema.json", file_views.schema, name="schema"),
]
