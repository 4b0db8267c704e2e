"""Tins: named as they are poured from, taken in, and what is told of them."""

import re
from dataclasses import dataclass
from datetime import date, datetime
from decimal import Decimal

from django.db import transaction
from django.db.models import Max

from emplastra.climate.models import Place
from emplastra.core.buying.stock import Happened
from emplastra.shared import clock
from emplastra.shared.services import Refused, owners_only, writes

from .models import Dealt, Lifted, Recall, Tin, TinFact

MOST_AT_ONCE = 100


def live(facts):
    """Facts that were not taken back."""
    return facts.filter(voided_by__isnull=True).exclude(kind=TinFact.VOID)


def emptied():
    """Tins that were told to be empty, as a query of their ids."""
    return live(TinFact.objects.filter(kind=Happened.EMPTIED)).values("tin")


def recalls():
    """Recalls that hold."""
    return Recall.objects.filter(lifted__isnull=True)


def recalls_of(tin):
    """The recall that is on the batch of a tin, None where none is."""
    return recalls().filter(product=tin.product_id, part=tin.part, batch=tin.batch).first()


@writes
@transaction.atomic
def recall(tin, user, why):
    """The batch of a tin is bad. Raises Refused without a reason, or where it is recalled already."""
    if not why.strip():
        raise Refused("write why, for example: the maker recalls it", "why")
    if recalls_of(tin):
        raise Refused("this batch is recalled already", "why")
    return Recall.objects.create(product=tin.product, part=tin.part, batch=tin.batch, why=why.strip()[:200], who=user)


@owners_only
@transaction.atomic
def lift(found, user, why):
    """A recall holds no more. Raises Refused without a reason."""
    if not why.strip():
        raise Refused("write why, for example: the maker takes it back", "why")
    if hasattr(found, "lifted"):
        raise Refused("it was lifted meanwhile", "why")
    return Lifted.objects.create(recall=found, why=why.strip()[:200], who=user)


@writes
@transaction.atomic
def deal(found, zone, user, what):
    """What was done about a recalled batch on a face. Raises Refused without words."""
    if not what.strip():
        raise Refused("write what was done, for example: holds at the edge, left", "what")
    return Dealt.objects.create(recall=found, zone=zone, what=what.strip()[:200], who=user)


def name_batch(product, part, batch, use_by=None, zone=None):
    """The tin of this product, part and batch that is used now, made if there is none; a use-by date fills a blank one.

    Of several the first that was not emptied. product: Product; part: component key; zone: the workshop's time zone,
    for the day it was opened.
    """
    today = clock.now().astimezone(zone).date() if zone else clock.now().date()
    tin = _of_batch(batch, product=product, part=part)
    if tin is None:
        tin = Tin.objects.create(product=product, part=part, batch=batch.strip(), use_by=use_by, opened=today)
    if use_by and tin.use_by is None:
        tin.use_by = use_by
        tin.save(update_fields=["use_by"])
    return tin


def _of_batch(batch, **of):
    """Of the tins of a batch the first that was not emptied, else the last; None where there is none."""
    tins = Tin.objects.filter(batch=batch.strip(), **of).order_by("number")
    return tins.exclude(pk__in=emptied()).first() or tins.last()


def tin_named(product, part, typed):
    """The tin of a product (its name) and part that is meant by a code or a batch, None where none is known."""
    return tin_of_code(typed) or _of_batch(typed, product__name=product, part=part)


def recalled_batch(product, part, batch):
    """Why a batch of a product (its name) and part is recalled, "" where it is not."""
    found = recalls().filter(product__name=product, part=part, batch=batch.strip()).first()
    return found.why if found else ""


_CODE = re.compile(r"(?:T|https?://\S+/tins/)(\d{1,9})/?", re.IGNORECASE)


def tin_of_code(text):
    """The tin whose label says this, typed or scanned as an address; None if none does."""
    found = _CODE.fullmatch(text.strip())
    return Tin.objects.select_related("product").filter(pk=found[1]).first() if found else None


def poured_from(product, part, typed, use_by=None, zone=None):
    """The tin that is poured from, by its code, else by its batch as name_batch has it.

    part: key, name and so on of what is poured. Raises Refused for the tin of something else, or an empty one.
    """
    tin = tin_of_code(typed)
    if tin is None:
        bad = recalls().filter(product=product, part=part.key, batch=typed.strip()).first()
        if bad is not None:
            raise Refused(f"this batch is recalled ({bad.why}): take another", "batch")
        return name_batch(product, part.key, typed, use_by, zone)
    if (tin.product_id, tin.part) != (product.pk, part.key):
        raise Refused(f"{tin.code} holds {tin.product}, {tin.part}: now {part.name} of {product} is poured", "batch")
    if bad := recalls_of(tin):
        raise Refused(f"{tin.code} is of a batch that is recalled ({bad.why}): take another", "batch")
    if emptied().filter(tin=tin).exists():
        raise Refused(f"{tin.code} was told to be empty: say what it holds on its page, or take another", "batch")
    return tin


class Whole:
    """The one part of a product without a sheet."""

    key, name = "tin", "Tin"


@dataclass(frozen=True)
class Came:
    """What is told of tins of one batch that came in: how many, the size of each [mL or g] and its price, when (None:
    now), until when it may be used, where it stands, and what it has in common with the other parts of its kit.
    """

    batch: str
    count: int = 1
    amount: float | None = None
    unit: str = ""
    price: Decimal | None = None
    at: datetime | None = None
    use_by: date | None = None
    place: Place | None = None
    kit: str = ""


@writes
@transaction.atomic
def take_in(product, part, user, came):
    """Tins of one batch that came in (Came), each with its first fact. Raises Refused."""
    if not 1 <= came.count <= MOST_AT_ONCE:
        raise Refused(f"must be from 1 to {MOST_AT_ONCE}", "count")
    here = Tin.objects.filter(product=product, part=part, batch=came.batch)
    last = here.aggregate(last=Max("number"))["last"] or 0
    about = {"product": product, "part": part, "batch": came.batch, "kit": came.kit, "use_by": came.use_by}
    made = [Tin.objects.create(number=last + n, **about) for n in range(1, came.count + 1)]
    told = {"amount": came.amount, "unit": came.unit if came.amount else "", "price": came.price, "place": came.place}
    for tin in made:
        TinFact.objects.create(tin=tin, kind=Happened.IN, at=came.at or clock.now(), who=user, **told)
    return made


@writes
def tell(tin, user, kind, at=None, note="", **told):
    """One more fact of a tin. Raises Refused for a moment to come."""
    now = clock.now()
    at = at or now
    if at > now:
        raise Refused("must not be in the future", "at")
    return TinFact.objects.create(tin=tin, kind=kind, at=at, who=user, note=note, **told)


@writes
def take_back(fact, user, reason):
    """A fact that was wrong: it stays, struck through, and counts no more. Raises Refused."""
    if not reason.strip():
        raise Refused("write why, for example: weighed with its lid", "reason")
    if fact.kind == TinFact.VOID or hasattr(fact, "voided_by"):
        raise Refused("it was taken back already")
    return TinFact.objects.create(
        tin=fact.tin, kind=TinFact.VOID, at=clock.now(), who=user, note=reason.strip()[:200], voids=fact
    )
