"""A plan of days as it is stored: acts with their hours, and what it came to."""

from dataclasses import asdict, dataclass

from emplastra.core.schedule.work import DAY_S


def proposal(found, asked, clash=None, risk=None):
    """What planning came to (the core's Found, the state's Gathered), as it is stored with its task."""
    acts = [_act(found, asked, act) for act in found.shop.acts] if found.plan else []
    return {
        "acts": sorted(acts, key=lambda row: (row["begin"], row["id"])),
        "says": _says(found, asked) | {"risk": risk},
        "clash": asdict(clash) if clash else None,
        "left_out": [[zone.pk, why] for zone, why in asked.left_out],
    }


def _act(found, asked, act):
    row, met = found.plan[act.id], found.mets.get(act.id)
    zone = asked.zones.get(act.face)
    job, _ = asked.promises.get(act.job, (None, None))
    opens, closes = (met.opens_s, met.closes_s) if met else (None, None)
    return {
        "id": act.id,
        "zone": zone.pk if zone else None,
        "face": zone.name if zone else f"{job}: access",
        "step": act.step,
        "coat": act.coat,
        "name": act.name,
        "kind": act.kind,
        "job": int(act.job),
        "begin": row.begin_s,
        "end": row.end_s,
        "who": row.who,
        "flash": act.then_s,
        "opens": _finite(opens),
        "closes": _finite(closes),
        "opens_why": max(met.opens, key=lambda o: o.t_s or 0.0).why if met and met.opens else "",
        "closes_why": min(met.closes, key=lambda c: c.t_s or 0.0).why if met and met.closes else "",
        "missed": any(m.act.id == act.id for m in found.missed),
        "fixed": act.pinned_s is not None,
        "wished": act.wished_s is not None,
    }


def _finite(t_s):
    return t_s if t_s is not None and abs(t_s) != float("inf") else None


def _says(found, asked):
    """What a plan came to: jobs' ends, what it misses, how far from the best it may be."""
    better = found.better
    return {
        "said": found.said,
        "how": found.how,
        "rounds": found.rounds,
        "ends": found.plan.ends(found.shop) if found.plan else {},
        "due": dict(found.shop.due),
        "gap": better.gap if better else None,
        "missed": [[m.act.id, m.by_s, m.early, m.why] for m in found.missed],
        "forecast": max(asked.forecast_s.values(), default=None),
        "clear": asked.clear,
        "hours_assumed": asked.hours_assumed,
        "made": asked.days.shop.start_s,
        "crew": {person.name: [list(span) for span in person.there] for person in asked.days.shop.crew},
    }


@dataclass(frozen=True)
class Moved:
    """An act that lies otherwise in another plan: its row there and here (None: not in it), by how much [s]."""

    was: dict | None
    now: dict | None

    @property
    def by_s(self):
        """By how much its begin moved [s]; 0 for one that is new or gone."""
        return self.now["begin"] - self.was["begin"] if self.was and self.now else 0.0

    @property
    def row(self):
        """The act."""
        return self.now or self.was


def moved(was, now):
    """[Moved] of acts that lie half a day or more otherwise, or are new, between two plans' rows."""
    old, new = {r["id"]: r for r in was}, {r["id"]: r for r in now}
    found = [Moved(old[key], new[key]) for key in new if key in old]
    found = [m for m in found if abs(m.by_s) >= DAY_S / 2]
    found += [Moved(None, row) for key, row in new.items() if key not in old]
    return sorted(found, key=lambda m: m.row["begin"])
