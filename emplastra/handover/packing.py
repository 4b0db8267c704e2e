"""A whole job as one open archive: rows as JSON with their schema, the same as CSV, photos, the map."""

import csv
import io
import json
import zipfile
from datetime import UTC, date, datetime, timedelta
from decimal import Decimal

from django.apps import apps
from django.template.loader import render_to_string

from emplastra.accounts.models import Workshop
from emplastra.jobs.judging import schools_of
from emplastra.jobs.photos import file_of, small_name
from emplastra.shared import clock
from emplastra.shared.answers import safe_cell
from emplastra.survey.map_svg import whole_svg
from emplastra.survey.selectors import job_map

from .archive_schema import SETTINGS, schema
from .carried import FORMAT, NAMES_ENTRY, OF_JOB, columns, details, links, tables

BEFORE, FORECASTS = timedelta(days=3), timedelta(days=30)
"""Air goes along from so long before the first entry on; forecasts that were issued within so long: the last
ones are set right by how far the ones before them went wrong."""
README = """A job of a restoration workshop, whole.

archive.json    everything, by tables; a row names others by their id. Lengths in mm, films in micrometres, areas in m2,
                volumes in mL, masses in g, temperatures in degrees Celsius, moments in UTC.
schema.json     what archive.json holds, as a JSON Schema
tables/         the same tables as CSV, UTF-8
photos/         pictures, named by the SHA-256 of their bytes
map.svg         the map of the piece
"""


class Collected:
    """Rows that belong to a job, and those that they rest on: {table: {id: row}}."""

    def __init__(self, job):
        self.rows = {model: {} for model in tables()}
        self.job = job
        self._keep(type(job).objects.filter(pk=job.pk))
        while self._mine() + self._entries() + self._named():
            pass
        self._air()
        self._named()

    def _keep(self, rows):
        """How many rows are new."""
        mine = self.rows[rows.model]
        found = {row.pk: row for row in rows if row.pk not in mine}
        mine.update(found)
        return len(found)

    def _of(self, label):
        return self.rows[apps.get_model(label)]

    def _mine(self):
        new = 0
        for label, fields in OF_JOB.items():
            model = apps.get_model(label)
            for field in fields:
                owners = self.rows[model._meta.get_field(field).related_model]
                new += self._keep(model.objects.filter(**{f"{field}__in": list(owners)}))
        return new

    def _entries(self):
        """Entries on its zones with their details, and what happened to its pots, acid and absences."""
        entry, new = apps.get_model("logbook.Entry"), 0
        ids = {row.entry_id for row in self._of("logbook.EntryZone").values()}
        ids |= {row.by_id for row in self._of("logbook.Correction").values() if row.by_id}
        new += self._keep(entry.objects.filter(pk__in=ids))
        for model in details():
            known = list(self.rows[entry])
            named = [f.name for f in links(model) if f.name in NAMES_ENTRY]
            for name in ("entry", *named):
                new += self._keep(model.objects.filter(**{f"{name}__in": known}))
            new += self._keep(entry.objects.filter(pk__in=list(self.rows[model])))
        return new

    def _named(self):
        """Rows that those rest on, of whatever table."""
        new = self._named_by_name()
        for model in tables():
            for link in links(model):
                ids = {getattr(row, link.attname) for row in self.rows[model].values()} - {None}
                there = self.rows.get(link.related_model)
                if there is not None and (missing := ids - there.keys()):
                    new += self._keep(link.related_model.objects.filter(pk__in=missing))
        return new

    def _named_by_name(self):
        """Products that plans name, all revisions of each, recalls of their tins."""
        product, revision = apps.get_model("materials.Product"), apps.get_model("materials.SheetRevision")
        plans = [*self._of("jobs.BuildUpVersion").values(), *self._of("materials.SystemVersion").values()]
        names = {step.get("product") for plan in plans for step in plan.steps}
        names |= {colour.undertone for colour in self._of("jobs.Colour").values()}
        new = self._keep(product.objects.filter(name__in=names - {None, ""}))
        new += self._keep(revision.objects.filter(product__in=list(self.rows[product])))
        recall, lifted = apps.get_model("store.Recall"), apps.get_model("store.Lifted")
        for tin in self._of("store.Tin").values():
            new += self._keep(recall.objects.filter(product=tin.product_id, part=tin.part, batch=tin.batch))
        return new + self._keep(lifted.objects.filter(recall__in=list(self.rows[recall])))

    def _air(self):
        """The air of the places where it stood, and what was forecast of them last."""
        entries = self._of("logbook.Entry").values()
        first = min((entry.began for entry in entries), default=None)
        places = list(self._of("climate.Place"))
        if first is None or not places:
            return
        reading, forecast = apps.get_model("climate.Reading"), apps.get_model("climate.Forecast")
        self._keep(reading.objects.filter(place__in=places, at__gte=first - BEFORE))
        self._keep(forecast.objects.filter(place__in=places, issued__gte=clock.now() - FORECASTS))
        self._named()
        for label, field in (("climate.Withdrawal", "batch"), ("climate.ForecastWithdrawal", "forecast")):
            model = apps.get_model(label)
            owners = self.rows[model._meta.get_field(field).related_model]
            self._keep(model.objects.filter(**{f"{field}__in": list(owners)}))


def plain(value):
    """A value of a row as JSON has it."""
    if isinstance(value, datetime):
        return value.astimezone(UTC).isoformat()
    if isinstance(value, date):
        return value.isoformat()
    return str(value) if isinstance(value, Decimal) else value


def document(job, collected=None):
    """A job as the document of its archive."""
    found, workshop = collected or Collected(job), Workshop.current()
    rows = {}
    for model, mine in found.rows.items():
        fields = columns(model)
        rows[model._meta.label] = [
            {"id": pk} | {f.name: plain(f.value_from_object(row)) for f in fields} for pk, row in sorted(mine.items())
        ]
    return {
        "format": FORMAT,
        "made": clock.now().isoformat(),
        "workshop": {name: getattr(workshop, name) for name in SETTINGS},
        "job": job.pk,
        "schools": dict(sorted(schools_of([job])[job.pk].items())),
        "rows": {label: some for label, some in rows.items() if some},
    }


def pack(job, book, out, say=lambda share, words: None):
    """Write the archive of a job to a file; how many rows and pictures are in it."""
    say(0.05, "collecting what belongs to it")
    found = Collected(job)
    told = document(job, found)
    pictures = list(found._of("jobs.Photo").values())
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("README.txt", README)
        archive.writestr("archive.json", json.dumps(told, ensure_ascii=False, indent=1))
        archive.writestr("schema.json", json.dumps(schema(), ensure_ascii=False, indent=1))
        say(0.5, "writing the tables")
        for label, some in told["rows"].items():
            archive.writestr(f"tables/{label}.csv", _csv(some))
        archive.writestr("map.svg", _map(job, book))
        for n, photo in enumerate({photo.name: photo for photo in pictures}.values()):  # the same picture once
            say(0.6 + 0.4 * n / len(pictures), f"picture {n + 1} of {len(pictures)}")
            for size in ("", "small"):
                if (path := file_of(photo, size)) is not None:
                    archive.write(path, small_name(photo) if size else photo.name, zipfile.ZIP_STORED)
    return sum(map(len, told["rows"].values())), len(pictures)


def _csv(rows):
    """Rows as CSV; what is a list or an object stands as JSON in its cell."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(rows[0])
    for row in rows:
        writer.writerow([safe_cell(_cell(value)) for value in row.values()])
    return out.getvalue()


def _cell(value):
    return (
        json.dumps(value, ensure_ascii=False)
        if isinstance(value, (list, dict))
        else ""
        if value is None
        else str(value)
    )


def _map(job, book):
    drawn = job_map(job, book)
    patterns = render_to_string("patterns.html")
    inner = patterns[patterns.index("<defs>") : patterns.index("</defs>") + len("</defs>")]
    return whole_svg(job.name, drawn.views, drawn.zones, inner)
