"""Adding data sheets and systems."""

import hashlib
import json

from django.db import transaction

from emplastra.core.sheets import read
from emplastra.core.steps import STEPS
from emplastra.shared.services import Refused

from .models import Product, SheetRevision, System, SystemVersion


@transaction.atomic
def add_sheet(document, why=SheetRevision.Why.MAKER):
    """A new revision of a product's sheet from a document; the same document twice is one revision.

    Raises SheetError naming each field.
    """
    sheet = read(document)
    product, _ = Product.objects.get_or_create(name=sheet.product, defaults={"kind": sheet.kind})
    digest = hashlib.sha256(json.dumps(document, sort_keys=True).encode()).hexdigest()
    newest = product.revisions.first()
    if newest and newest.sha256 == digest:
        return newest
    number = newest.number + 1 if newest else 1
    return SheetRevision.objects.create(product=product, number=number, document=document, sha256=digest, why=why)


@transaction.atomic
def add_system(name, school, steps, max_total_um=None, user=None):
    """A new version of a coating system. Raises Refused naming the step that is not understood."""
    for i, step in enumerate(steps, 1):
        if step.get("kind") not in STEPS:
            raise Refused(f"step {i}: kind must be one of {', '.join(STEPS)}", "steps")
        if STEPS[step["kind"]].leaves_film and not Product.objects.filter(name=step.get("product", "")).exists():
            raise Refused(f"step {i}: there is no product “{step.get('product', '')}”", "steps")
    system, _ = System.objects.get_or_create(name=name, defaults={"school": school})
    newest = system.versions.first()
    if newest and newest.steps == steps:
        return newest
    number = newest.number + 1 if newest else 1
    return SystemVersion.objects.create(system=system, number=number, steps=steps, max_total_um=max_total_um, who=user)
