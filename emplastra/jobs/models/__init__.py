"""Jobs and zones, and what was found on them."""

from .colour import Colour, ColourCard, GunSetting
from .days import ActDay, DaysPlan, HoursTold, Lies, Paid
from .found import Finding, FindingWord, PartOff, PartWord, Photo, Watch, WatchLook
from .handed import Brought, CareLink, Copied, CopiedWord, HandOver, Revisit
from .judged import Acceptance, AccessPlan, Estimate, OwnerDecision, Quiet, School, SolderMoved, WorkHours
from .piece import BuildUpVersion, Job, MapPlace, Zone, ZoneRevision

__all__ = [
    "Acceptance",
    "AccessPlan",
    "ActDay",
    "Brought",
    "BuildUpVersion",
    "CareLink",
    "Colour",
    "ColourCard",
    "Copied",
    "CopiedWord",
    "DaysPlan",
    "Estimate",
    "Finding",
    "FindingWord",
    "GunSetting",
    "HandOver",
    "HoursTold",
    "Job",
    "Lies",
    "MapPlace",
    "OwnerDecision",
    "Paid",
    "PartOff",
    "PartWord",
    "Photo",
    "Quiet",
    "Revisit",
    "School",
    "SolderMoved",
    "Watch",
    "WatchLook",
    "WorkHours",
    "Zone",
    "ZoneRevision",
]
