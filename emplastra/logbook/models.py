"""The tables of the logbook: entries, corrections, and the details of each kind (in `kinds`)."""

from django.db import models

from .entry import Correction, Entry, EntryQuerySet, EntryZone, Lasted, holds
from .kinds import KINDS, ROWS

Kind = models.TextChoices("Kind", {kind.name.upper(): (kind.key, kind.label) for kind in KINDS.values()})
"""Kinds of entries, as in Kind.COAT."""

__all__ = ["KINDS", "ROWS", "Correction", "Entry", "EntryQuerySet", "EntryZone", "Kind", "Lasted", "holds"]
