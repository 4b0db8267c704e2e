"""Jobs and zones, and what was found on them."""

from .found import Finding, FindingWord, PartOff, PartWord, Photo, Watch, WatchLook
from .judged import Acceptance, School
from .piece import BuildUpVersion, Job, MapPlace, Zone, ZoneRevision

__all__ = [
    "Acceptance", "BuildUpVersion", "Finding", "FindingWord", "Job", "MapPlace", "PartOff", "PartWord", "Photo", "School", "Watch",
    "WatchLook", "Zone", "ZoneRevision",
]  # fmt: skip
