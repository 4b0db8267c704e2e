"""Hours that the log shows of each kind of work on each zone.

A person's time is counted once: what overlaps, or was told of several zones at once, is shared out by
the area worked on. Ours, no source.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from itertools import pairwise


@dataclass(frozen=True)
class Stint:
    """Somebody at one kind of work on a zone from began to ended [epoch s], over an area [m2]."""

    who: int
    kind: str
    zone: int
    began_s: float
    ended_s: float
    area_m2: float


def hours_by(stints: Sequence[Stint]) -> dict[tuple[int, str], float]:
    """{(zone, kind): hours [h]}; the sum over all is each person's time at work, counted once.

    At every moment a person's time is split over the stints that run then, by their areas; evenly
    where no area is known.
    """
    found: dict[tuple[int, str], float] = {}
    people: dict[int, list[tuple[float, bool, Stint]]] = {}
    for stint in stints:
        if stint.ended_s > stint.began_s:
            people.setdefault(stint.who, []).extend(((stint.began_s, True, stint), (stint.ended_s, False, stint)))
    for edges in people.values():
        edges.sort(key=lambda edge: edge[:2])
        running: list[Stint] = []
        for (start, begins, stint), (end, _, _) in pairwise(edges):
            running.append(stint) if begins else running.remove(stint)
            if running and end > start:
                for one, part in zip(running, _parts(running), strict=True):
                    key = (one.zone, one.kind)
                    found[key] = found.get(key, 0.0) + (end - start) / 3600 * part
    return found


def _parts(running: Iterable[Stint]) -> list[float]:
    areas = [max(0.0, s.area_m2) for s in running]
    total = sum(areas)
    return [a / total if total else 1 / len(areas) for a in areas]
