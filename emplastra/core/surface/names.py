"""Names of what runs on a surface and of how it stands.

Keys are written in small letters with hyphens, everywhere; names of a document's fields with underscores.
"""

from enum import StrEnum


class Status(StrEnum):
    """How a clock or a surface stands; the first eight lead in this order, and bare past its limit after KEEP_WET.

    UNJUDGED: the sheet says nothing of what comes next. IN_WORK and AWAY are said of whole zones.
    """

    KEEP_WET = "keep-wet"
    CLOSING = "closing"
    MISSED = "missed"
    BARE = "bare"
    OPEN = "open"
    UNJUDGED = "unjudged"
    WAITING = "waiting"
    RESTING = "resting"
    IN_WORK = "in-work"
    AWAY = "away"

    @property
    def word(self) -> str:
        """It as a page says it."""
        return self.value.replace("-", " ")


class Runs(StrEnum):
    """Clocks that run on a surface; those of a data sheet bear the name of its field."""

    BARE = "bare"
    KEEP_WET = "keep-wet"
    DRY_OFF = "dry-off"
    RECOAT = "recoat"
    KEYED = "keyed"
    ACT = "act"
    DEGREASED = "degreased"
    FLASH = "flash"
    DUST_FREE = "dust_free"
    TOUCH = "touch"
    HANDLE = "handle"
    SANDABLE = "sandable"
    READY_TO_WELD = "ready_to_weld"
    CURE = "cure"
    COOL = "cool"
    TAPE = "tape"
    WET = "wet"


class StepKind(StrEnum):
    """What is done in a step of a plan."""

    SURVEY = "survey"
    UNCOVER = "uncover"
    STRIP = "strip"
    REPAIR = "repair"
    WELD = "weld"
    CLEAN = "clean"
    DEGREASE = "degrease"
    ABRADE = "abrade"
    ACID_PREP = "acid-prep"
    RINSE = "rinse"
    DRY = "dry"
    CONVERT = "convert"
    PRIME = "prime"
    STRIPE = "stripe"
    SOLDER = "solder"
    SEAM_SEAL = "seam-seal"
    FILL = "fill"
    GUIDE_COAT = "guide-coat"
    BLOCK = "block"
    SURFACE = "surface"
    SEAL = "seal"
    MASK = "mask"
    BASE = "base"
    MID = "mid"
    CLEAR = "clear"
    SINGLE_STAGE = "single-stage"
    TEXTURE = "texture"
    WAX = "wax"
    FORCE_DRY = "force-dry"
    POLISH = "polish"
    CONTRACTOR = "contractor"
    TRIAL_FIT = "trial-fit"
    CLOSE = "close"
    INSPECT = "inspect"
    INK_OFF = "ink-off"
    ENCAPSULATE = "encapsulate"
    POWDER = "powder"


COLOUR = frozenset({StepKind.BASE, StepKind.MID, StepKind.CLEAR, StepKind.SINGLE_STAGE})
"""Steps of the last colour, clear among them."""


class Loss(StrEnum):
    """What took film off."""

    WELD = "weld"
    GRIND = "grind"
    KNOCK = "knock"


LEADING = (Runs.KEEP_WET, Runs.BARE, Runs.DRY_OFF, Runs.RECOAT, Runs.ACT)
"""Clocks that can make the headline (RECOAT stands for a keyed surface too)."""
