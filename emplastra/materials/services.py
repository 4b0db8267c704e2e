"""Adding data sheets and systems."""

import hashlib
import json

import yaml
from django.db import transaction

from emplastra.core.sheets import read
from emplastra.core.steps import STEPS
from emplastra.shared.services import Refused

from .models import Product, SheetRevision, System, SystemVersion

MAX_BYTES = 1_000_000


class _PlainLoader(yaml.SafeLoader):
    """Safe YAML without aliases: a few lines of them can grow without bound."""

    def compose_node(self, parent, index):
        if self.check_event(yaml.AliasEvent):
            raise yaml.YAMLError("aliases (*name) are not taken: write the values out")
        return super().compose_node(parent, index)


def read_document(data):
    """A document from the bytes of a YAML or JSON file. Raises Refused, saying what would do."""
    if len(data) > MAX_BYTES:
        raise Refused("the file is larger than 1 MB", "file")
    try:
        document = yaml.load(data.decode("utf-8-sig"), Loader=_PlainLoader)
    except (yaml.YAMLError, UnicodeDecodeError, ValueError, RecursionError) as error:
        raise Refused(f"this is no YAML or JSON file: {str(error)[:160]}", "file") from error
    return document


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
