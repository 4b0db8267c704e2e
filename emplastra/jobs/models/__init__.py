"""Jobs and zones, and what was found on them."""

from .found import Finding, FindingWord, PartOff, PartWord, Photo, Watch, WatchLook
from .piece import BuildUpVersion, Job, MapPlace, Zone, ZoneRevision

__all__ = [
    "BuildUpVersion", "Finding", "FindingWord", "Job", "MapPlace", "PartOff", "PartWord", "Photo", "Watch",
    "WatchLook", "Zone", "ZoneRevision",
]  # fmt: skip
