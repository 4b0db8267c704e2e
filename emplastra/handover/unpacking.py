"""An archive taken in: looked at as a stranger's file, then written down whole or not at all."""

import hashlib
import json
import zipfile
from datetime import datetime

import jsonschema
from django.core.exceptions import ValidationError
from django.db import IntegrityError, models
from django.utils.text import slugify

from emplastra.accounts.models import User, Workshop
from emplastra.accounts.names import name_key
from emplastra.climate.models import Place
from emplastra.core.document import DocumentError, plain, wanted
from emplastra.core.product.sheet import problems_of
from emplastra.core.surface.plan import read_steps
from emplastra.jobs import photos
from emplastra.jobs.models import Brought, Job, Photo, School, Zone
from emplastra.materials.models import Product, SheetRevision, System, SystemVersion
from emplastra.record.selectors import records
from emplastra.say.book import Book
from emplastra.shared.services import Refused
from emplastra.shared.tasks import Failed
from emplastra.store.models import Tin

from .archive_schema import SETTINGS, schema
from .carried import FORMAT, LATER, columns, links, tables

MOST_BYTES, MOST_FILES, MOST_JSON = 600_000_000, 6_000, 150_000_000
"""The most that an archive may hold once it is unpacked [bytes], files in it, and of its document [bytes]."""
SHOWN = 12


def refuse(words, problems=()):
    """Raise Failed: nothing is taken in."""
    raise Failed(words, problems[:SHOWN])


def look(data):
    """(the document, an open ZipFile) of an archive's bytes or file. Raises Failed saying what would be accepted."""
    try:
        archive = zipfile.ZipFile(data)
        infos = archive.infolist()
        if len(infos) > MOST_FILES or sum(info.file_size for info in infos) > MOST_BYTES:
            refuse("is larger than an archive may be: at most 600 MB unpacked")
        info = archive.getinfo("archive.json")
        if info.file_size > MOST_JSON:
            refuse("tells more than an archive may: at most 150 MB of archive.json")
        with archive.open(info) as file:
            text = file.read(MOST_JSON + 1)
    except KeyError:
        refuse("has no archive.json: send a job’s archive as it was made")
    except (zipfile.BadZipFile, OSError, EOFError, ValueError, RuntimeError, NotImplementedError, zipfile.zlib.error):
        refuse("cannot be opened: it is cut, or no archive of a job")
    return _read(text), archive


def _read(text):
    try:
        told = plain(json.loads(text, parse_constant=lambda word: refuse(f"holds {word}, which is no number")))
    except DocumentError as error:
        refuse("cannot be read", [f"{path}: {words}" for path, words in error.problems])
    except (ValueError, RecursionError):
        refuse("cannot be read: its archive.json is cut or no JSON")
    if not isinstance(told, dict) or told.get("format") != FORMAT:
        said = told.get("format") if isinstance(told, dict) else ""
        refuse(f"is of another version ({str(said)[:40] or 'none'}): this workshop reads {FORMAT}")
    errors = jsonschema.Draft202012Validator(schema()).iter_errors(told)
    problems = [
        f"{'/'.join(map(str, e.absolute_path))}: {wanted(e)}" for e, _ in zip(errors, range(SHOWN), strict=False)
    ]
    if problems:
        refuse("does not fit its schema", problems)
    return told


class Taken:
    """A job as it is written down from an archive's document. renamed: what bears another name here."""

    def __init__(self, told, user):
        self.told, self.user = told, user
        self.rows = {model: told["rows"].get(model._meta.label, []) for model in tables()}
        self.new = {model: {} for model in tables()}
        self.renamed, self.count = {}, 0
        self.here = str(told["workshop"].get("name", ""))[:60] or "another workshop"

    def write(self, say=lambda share, words: None):
        """Write all rows; the job. Raises Failed naming the first row that cannot be."""
        for n, model in enumerate(tables()):
            say(0.2 + 0.6 * n / len(tables()), "writing down")
            make = getattr(self, f"_make_{model._meta.model_name}", self._make)
            try:
                make(model)
            except (ValidationError, IntegrityError, ValueError, OverflowError) as error:
                said = error.messages[0] if isinstance(error, ValidationError) else str(error)
                refuse("cannot be written down", [f"{model._meta.label}: {said[:160]}"])
        self._later()
        self._schools()
        return self.new[Job][self.told["job"]]

    def _values(self, model, row):
        """The fields of a row, links followed. Raises Failed for one that leads nowhere."""
        found = {}
        for field in columns(model):
            value = row[field.name]
            if isinstance(field, models.ForeignKey):
                if value is None or field.name in LATER.get(model._meta.label, ()):
                    found[field.attname] = None
                    continue
                there = self.new.get(field.related_model, {}).get(value)
                if there is None:
                    refuse("is not whole", [f"{model._meta.label} {row['id']}: its {field.name} {value} is not in it"])
                found[field.attname] = there.pk
            else:
                found[field.name] = _exact(field, field.to_python(value))
        return found

    def _make(self, model):
        """Rows as they stand, in the order of their numbers; many at once where no other row of theirs is named."""
        rows = sorted(self.rows[model], key=lambda row: row["id"])
        made = []
        itself = any(f.related_model is model and f.name not in LATER.get(model._meta.label, ()) for f in links(model))
        for row in rows:
            made.append(self._checked(model(**self._values(model, row))))
            if itself:
                made[-1].save(force_insert=True)
                self.new[model][row["id"]] = made[-1]
        if not itself:
            model.objects.bulk_create(made, batch_size=500)
            self.new[model] |= {row["id"]: one for row, one in zip(rows, made, strict=True)}
        self.count += len(made)

    def _checked(self, one):
        """A row whose fields are what their columns may hold. Raises ValidationError."""
        for field in columns(type(one)):
            value = getattr(one, field.attname)
            if value is None and not field.null:
                raise ValidationError(f"{field.name} is empty")
            if not isinstance(field, models.ForeignKey) and value not in field.empty_values:
                field.clean(value, one)
        return one

    # What belongs to the workshop: taken as it is where it is the same here, else under another name

    def _name(self, model, field, name, room):
        """A name that nobody bears here."""
        if not self._is_taken(model, field, name):
            return name
        for n in range(1, 1000):
            tail = (
                f" ({self.here}{f' {n}' if n > 1 else ''})"
                if model is not User
                else f".{slugify(self.here)}{n if n > 1 else ''}"
            )
            said = f"{name[: room - len(tail)]}{tail}" if len(tail) < room else f"{name[: room - 6]} ({n})"
            if not self._is_taken(model, field, said):
                self.renamed.setdefault(str(model._meta.verbose_name), {})[name] = said
                return said
        raise ValueError(f"too many of {name}")

    @staticmethod
    def _is_taken(model, field, name):
        """True for a name that somebody or something bears here; of people, that looks like one."""
        asked = {"name_key": name_key(name)} if model is User else {field: name}
        return model.objects.filter(**asked).exists()

    def _make_user(self, model):
        """People of the other workshop: named in the record, let in nowhere."""
        for row in self.rows[User]:
            there = User.objects.filter(username=f"{row['username']}.{slugify(self.here)}", is_active=False).first()
            if there is None or there.has_usable_password():
                there = User(username=self._name(User, "username", row["username"], 150), is_active=False)
                there.set_unusable_password()
                self._checked(there).save()
            self.new[User][row["id"]] = there

    def _make_place(self, model):
        """Places with their air; one that bears another name here is offered for no work of ours."""
        for row in self.rows[Place]:
            values = self._values(Place, row)
            values["name"] = self._name(Place, "name", values["name"], 60)
            values["in_use"] = values["in_use"] and values["name"] == row["name"]
            one = self._checked(Place(**values))
            one.save()
            self.new[Place][row["id"]] = one

    def _make_product(self, model):
        shas = {}
        for row in sorted(self.rows[SheetRevision], key=lambda row: row["number"]):
            shas.setdefault(row["product"], []).append(row["sha256"])
        for row in sorted(self.rows[Product], key=lambda row: row["id"]):
            there = Product.objects.filter(name=row["name"]).first()
            if there is not None:
                held = list(there.revisions.order_by("number").values_list("sha256", flat=True))
                if held[: len(shas.get(row["id"], []))] == shas.get(row["id"], []):
                    self.new[Product][row["id"]] = there
                    continue
            values = self._values(Product, row)
            values["name"] = self._name(Product, "name", values["name"], 80)
            one = self._checked(Product(**values))
            one.save()
            self.new[Product][row["id"]] = one

    @property
    def names(self):
        """{name of a product in the archive: its name here} where that is another."""
        return self.renamed.get(str(Product._meta.verbose_name), {})

    def _make_sheetrevision(self, model):
        for row in sorted(self.rows[SheetRevision], key=lambda row: (row["product"], row["number"])):
            product = self.new[Product].get(row["product"])
            there = product and product.revisions.filter(number=row["number"], sha256=row["sha256"]).first()
            if there:
                self.new[SheetRevision][row["id"]] = there
                continue
            problems = problems_of(row["document"])
            if problems:
                refuse("holds a data sheet that cannot be read", [f"{path}: {words}" for path, words in problems])
            values = self._values(SheetRevision, row)
            values["document"] = _renamed(values["document"], self.names)
            one = self._checked(SheetRevision(**values))
            one.save()
            self.new[SheetRevision][row["id"]] = one

    def _make_system(self, model):
        steps = {}
        for row in sorted(self.rows[SystemVersion], key=lambda row: row["number"]):
            steps.setdefault(row["system"], {})[row["number"]] = row["steps"]
        for row in self.rows[System]:
            there = System.objects.filter(name=row["name"]).first()
            told = steps.get(row["id"], {})
            if there is not None and not self.names:
                held = dict(there.versions.values_list("number", "steps"))
                if all(held.get(number) == some for number, some in told.items()):
                    self.new[System][row["id"]] = there
                    continue
            values = self._values(System, row)
            values["name"] = self._name(System, "name", values["name"], 80)
            one = self._checked(System(**values))
            one.save()
            self.new[System][row["id"]] = one

    def _make_systemversion(self, model):
        for row in sorted(self.rows[SystemVersion], key=lambda row: row["id"]):
            values = self._values(SystemVersion, row)
            there = SystemVersion.objects.filter(system_id=values["system_id"], number=values["number"]).first()
            if there is None:
                values["steps"] = self._steps(values["steps"])
                there = self._checked(SystemVersion(**values))
                there.save()
            self.new[SystemVersion][row["id"]] = there

    def _make_tin(self, model):
        for row in sorted(self.rows[Tin], key=lambda row: row["id"]):
            values = self._values(Tin, row)
            like = Tin.objects.filter(product_id=values["product_id"], part=values["part"], batch=values["batch"])
            while like.filter(number=values["number"]).exists():
                values["number"] += 1
            one = self._checked(Tin(**values))
            one.save()
            self.new[Tin][row["id"]] = one

    # What names rows, or products, inside itself

    def _make_buildupversion(self, model):
        for row in self.rows[model]:
            row["steps"] = self._steps(row["steps"])
        self._make(model)

    def _make_accessplan(self, model):
        for row in self.rows[model]:
            for act in row["acts"] if isinstance(row["acts"], list) else ():
                act["faces"] = [str(self._row(Zone, face, "an act of access")) for face in act["faces"]]
        self._make(model)

    def _make_acceptance(self, model):
        entry = next(m for m in tables() if m._meta.label == "logbook.Entry")
        for row in self.rows[model]:
            word, _, number = row["subject"].partition(" ")
            if word == "entry" and number.isascii() and number.isdecimal():
                row["subject"] = f"entry {self._row(entry, number, 'an acceptance')}"
        self._make(model)

    def _row(self, model, number, what):
        """The number that a row bears here."""
        text = str(number)
        found = self.new[model].get(int(text)) if text.isascii() and text.isdecimal() and len(text) < 18 else None
        if found is None:
            refuse("is not whole", [f"{what} names {model._meta.label} {text[:20]}, which is not in it"])
        return found.pk

    def _steps(self, steps):
        """Steps of a plan that can be read, their products by the names that they bear here."""
        read_steps([{"id": f"s{n}"} | step for n, step in enumerate(steps)] if isinstance(steps, list) else steps)
        return [
            step | {"product": self.names.get(step.get("product"), step.get("product", ""))}
            if step.get("product")
            else step
            for step in steps
        ]

    def _later(self):
        """Links to rows further down."""
        for label, names in LATER.items():
            model = next(m for m in tables() if m._meta.label == label)
            for row in self.rows[model]:
                for name in names:
                    there = self.new[model].get(row[name]) if row[name] else None
                    mine = self.new[model][row["id"]]
                    if there is not None and getattr(mine, f"{name}_id") is None:
                        model.objects.filter(pk=mine.pk).update(**{name: there})

    def _schools(self):
        job = self.new[Job].get(self.told["job"])
        if job is None or len(self.new[Job]) != 1:
            refuse("is not of one job")
        for question, answer in self.told["schools"].items():
            self._checked(School(job=job, question=question, answer=answer)).save()

    def settings(self):
        """[(setting, there, here)] of the workshop's settings that differ: states rest on them."""
        mine = Workshop.current()
        told = self.told["workshop"]
        return [
            (name, told[name], getattr(mine, name))
            for name in SETTINGS[1:]
            if name in told and told[name] != getattr(mine, name)
        ]


def _exact(field, value):
    """A value as its column holds it: moments have a zone."""
    if isinstance(field, models.DateTimeField) and isinstance(value, datetime) and value.tzinfo is None:
        raise ValidationError("a moment must say its offset")
    return value


def _renamed(value, names, key=""):
    """A data sheet with products named anew: its own, and those that its windows and rules name."""
    if isinstance(value, dict):
        return {_product(name, names): _renamed(one, names, name) for name, one in value.items()}
    if isinstance(value, list):
        return [_renamed(one, names, key) for one in value]
    if not isinstance(value, str):
        return value
    return names.get(value, value) if key == "product" else _product(value, names)


def _product(text, names):
    """ "product:name" with the name that it bears here; any other text as it is."""
    word, colon, name = text.partition("product:")
    return f"product:{names.get(name, name)}" if colon and not word else text


def pictures(told, archive):
    """Put the pictures of an archive where their rows say; how many files are missing. Raises Failed."""
    missing = 0
    for row in told["rows"].get("jobs.Photo", ()):
        photo = Photo(sha256=row["sha256"])
        if len(row["sha256"]) != 64 or set(row["sha256"]) - set("0123456789abcdef"):
            refuse("names a picture that is none of ours", [f"jobs.Photo {row['id']}: {row['sha256'][:64]}"])
        try:
            info = archive.getinfo(photo.name)
            if info.file_size > photos.MAX_BYTES:
                refuse("holds a picture of more than 15 MB", [photo.name])
            data = archive.read(info)
        except KeyError:
            missing += 1
            continue
        except (zipfile.BadZipFile, OSError, EOFError, RuntimeError, NotImplementedError, zipfile.zlib.error):
            refuse("holds a picture that is cut", [photo.name])
        if hashlib.sha256(data).hexdigest() != row["sha256"]:
            refuse("holds a picture that is not what its row says", [photo.name])
        try:
            photos.write_bare(photo, data)
        except Refused as refusal:
            refuse("holds a picture that cannot be kept", [f"{photo.name}: {refusal}"])
    return missing


def take_in(told, archive, user, sha256, say=lambda share, words: None):
    """Write a job down from its archive, inside a transaction: (the job, the Taken, pictures that are missing).

    Raises Failed, and whatever was written goes with the transaction.
    """
    if (before := Brought.objects.filter(sha256=sha256, job__removed=False).select_related("job").first()) is not None:
        refuse(f"was taken in already, as {before.job}")
    taken = Taken(told, user)
    job = taken.write(say)
    say(0.82, "looking at it as it stands here")
    missing = pictures(told, archive)
    Brought.objects.create(
        job=job, who=user, workshop=str(told["workshop"]["name"])[:80], sha256=sha256, renamed=taken.renamed
    )
    _stands(job)
    return job, taken, missing


def _stands(job):
    """Fold and judge all of it once: what no page could show is not taken in."""
    zones = list(Zone.objects.filter(job=job, removed=False).select_related("job", "origin"))
    try:
        book = Book(more=[zone for zone in zones if zone.is_in_use])
        book.states([zone.pk for zone in zones if zone.is_in_use])
        records(zones)
    except Failed:
        raise
    except Exception as error:  # whatever a stranger's file makes of our fold: it is refused, not shown
        refuse("cannot be shown as it stands", [f"{type(error).__name__}: {str(error)[:160]}"])
