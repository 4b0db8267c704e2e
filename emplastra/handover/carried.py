"""What of a job is carried from one workshop to another: which tables, by what their rows belong to it, in which order
they are written down again.
"""

from functools import cache

from django.apps import apps
from django.db import models

from emplastra.logbook.models import ROWS

FORMAT = "emplastra-archive/1"
OF_JOB = {
    "jobs.Zone": ("job",),
    "jobs.ZoneRevision": ("zone",),
    "jobs.BuildUpVersion": ("zone",),
    "jobs.MapPlace": ("zone",),
    "jobs.Finding": ("zone",),
    "jobs.FindingWord": ("finding",),
    "jobs.Photo": ("zone",),
    "jobs.PartOff": ("job",),
    "jobs.PartWord": ("part",),
    "jobs.Watch": ("zone",),
    "jobs.WatchLook": ("watch",),
    "jobs.ColourCard": ("job",),
    "jobs.Colour": ("job",),
    "jobs.Paid": ("job",),
    "jobs.Lies": ("zone",),
    "jobs.ActDay": ("zone",),
    "jobs.HandOver": ("job",),
    "jobs.Revisit": ("zone",),
    "jobs.Copied": ("zone",),
    "jobs.CopiedWord": ("copied",),
    "jobs.Acceptance": ("zone",),
    "jobs.Quiet": ("job",),
    "jobs.Estimate": ("job",),
    "jobs.OwnerDecision": ("job",),
    "jobs.WorkHours": ("job", "zone"),
    "jobs.AccessPlan": ("job",),
    "jobs.SolderMoved": ("zone",),
    "logbook.EntryZone": ("zone",),
    "logbook.Lasted": ("entry",),
    "logbook.Correction": ("replaces",),
    "store.Dealt": ("zone",),
}
"""Table -> the fields by which a row belongs to a job or to what belongs to it."""
NAMES_ENTRY = ("pot", "prep", "away")
"""Fields by which what happened names what it happened to: a pot, acid, an absence."""
CARRIED_ALONG = (
    "accounts.User",
    "climate.Place",
    "climate.ImportBatch",
    "climate.Withdrawal",
    "climate.Reading",
    "climate.Forecast",
    "climate.ForecastWithdrawal",
    "materials.Product",
    "materials.SheetRevision",
    "materials.System",
    "materials.SystemVersion",
    "store.Tin",
    "store.Recall",
    "store.Lifted",
)
"""What belongs to the workshop, of which those rows go along that the job rests on."""
STAYS = {
    "shared.Submission": "what was sent by forms here",
    "shared.Task": "work of this server",
    "accounts.FeedLink": "private addresses",
    "accounts.NewPassword": "private addresses",
    "accounts.Session": "who is signed in here",
    "accounts.SecondFactor": "what opens this workshop",
    "accounts.SecurityEvent": "the security log of this server",
    "accounts.Workshop": "told beside the rows",
    "climate.ImportDraft": "files that wait",
    "materials.LabelPhoto": "pictures of this shelf’s tins",
    "jobs.CareLink": "private addresses",
    "jobs.GunSetting": "guns of this workshop",
    "jobs.DaysPlan": "the plan of all jobs here",
    "jobs.HoursTold": "hours of people here",
    "jobs.School": "told as the schools that hold for the job",
    "jobs.Brought": "told by the workshop that takes it in",
    "store.TinFact": "what stands on this shelf",
    "practice.Run": "practices",
    "scales.Scale": "scales of this workshop",
    "scales.Tare": "vessels of this workshop",
}
"""Tables that stay, and why."""
LATER = {"jobs.Zone": ("twin",), "materials.Product": ("superseded_by",)}
"""Links that may lead to a row further down: set once all are there."""


@cache
def tables():
    """All tables that are carried, each after those that its rows name."""
    labels = [*CARRIED_ALONG, "jobs.Job", *OF_JOB, "logbook.Entry", *(row._meta.label for row in ROWS.values())]
    found, left = [], list(dict.fromkeys(labels))
    while left:
        ready = [label for label in left if not _names(label) & set(left) - {label}]
        found += ready
        left = [label for label in left if label not in ready]
    return tuple(apps.get_model(label) for label in found)


def _names(label):
    """Labels of the tables that a table's rows name."""
    later = LATER.get(label, ())
    return {f.related_model._meta.label for f in links(apps.get_model(label)) if f.name not in later}


def links(model):
    """Fields of a table that name a row of another."""
    return [f for f in model._meta.concrete_fields if isinstance(f, models.ForeignKey)]


def columns(model):
    """Fields of a table that are carried: all but its number; of people their name and role alone."""
    if model._meta.label == "accounts.User":
        return [model._meta.get_field(name) for name in ("username", "role")]
    return [f for f in model._meta.concrete_fields if not (f.primary_key and not f.remote_field)]


def details():
    """Tables of what the kinds of entries tell."""
    return [row for row in tables() if row in ROWS.values()]
