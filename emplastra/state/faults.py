"""Faults of a coat: what the record says of it, sign by sign; the film that is there; until when it is waited."""

from dataclasses import dataclass, field

from emplastra.core.defects.causes import Says, Sign
from emplastra.core.defects.remedy import KEEP_UM, Film
from emplastra.core.product.kinds import FILLERS, ProductKind
from emplastra.core.rules.registry import Aspect
from emplastra.core.spray.gun import USUAL_MM
from emplastra.core.surface import events
from emplastra.core.surface.clocks import thicker
from emplastra.core.surface.integral import crossing
from emplastra.core.words import celsius_q, film_q, lasting, length_q, quantity
from emplastra.core.working import Basis
from emplastra.jobs.guns import told_of
from emplastra.logbook.kinds.checked import Checked
from emplastra.logbook.models import Entry

from .coats import judged_coats

BY_RULE = {
    "thick": (Aspect.FILM, ("thick", "too-much")),
    "thin": (Aspect.FILM, ("thin",)),
    "thick-under": (Aspect.FILM, ("stack-thick", "too-much")),
    "soon": (Aspect.WINDOW, ("early",)),
    "late": (Aspect.WINDOW, ("late",)),
    "window": (Aspect.WINDOW, ("early", "late")),
    "cold": (Aspect.AIR, ("cold",)),
    "hot": (Aspect.AIR, ("hot",)),
    "dry": (Aspect.AIR, ("dry",)),
    "damp": (Aspect.AIR, ("damp", "foams", "blush")),
    "dew": (Aspect.AIR, ("dew",)),
    "unclean": (Aspect.CLEAN, ("not-wiped", "stale-wipe", "wipe-harms", "still-wet")),
    "acid": (Aspect.CLEAN, ("acid-stands", "acid-dried", "acid-short")),
    "salts": (Aspect.FINDINGS, ("salts", "salts-untested")),
    "under": (Aspect.UNDER, ("over-what", "sheet-substrate", "clear-once")),
    "key": (Aspect.PREPARATION, ("smooth", "burnished", "wheel-needs-prep", "burnt")),
    "grit": (Aspect.GRIT, ("grit-coarse", "scratch")),
    "pot": (Aspect.POT, ("induction", "dead-pot", "unmixed", "unmatched", "out-of-date")),
    "wrong-thinner": (Aspect.POT, ("reducer",)),
}
"""Sign -> the rules of the one judge that show it, and the aspect that is clean where they had nothing to say."""
POROUS = FILLERS | {ProductKind.SPRAYABLE_FILLER}
SHRINKS = POROUS | {ProductKind.TWO_PACK_SURFACER}
YOUNG_H = 24.0
"""Filler and surfacer younger than this still shrink [h]. Common practice, no source."""
HOT_METAL_K = 5.0
FAR, NEAR, SLOW_M_S, WIDE_PCT = 1.3, 0.7, 0.25, 45.0
"""Of the usual distance; slower than this; overlap under this: they show. Common practice, no source."""
POLISHED = frozenset({ProductKind.CLEAR_COAT, ProductKind.SINGLE_STAGE, ProductKind.ENAMEL})


@dataclass
class Coated:
    """A coat of a zone (its ZoneState) and what is said of it: entry, event, Ruled."""

    state: object
    entry: object
    event: object
    ruled: object
    book: object
    record: dict = field(default_factory=dict)

    @property
    def sheet(self):
        """Its sheet, None without one."""
        return self.event.sheet

    @property
    def kind(self):
        """The kind of its step, "" for one in no plan."""
        return next((s.kind for s in self.state.facts.steps if s.id == self.event.step), "")


def coats_of(book, state):
    """[Coated] of a zone, the newest first."""
    found = []
    for _, entry, ruled in judged_coats([state.zone]):
        event = next((e for e in state.facts.events if e.entry == entry.pk), None)
        if event is not None:
            found.append(Coated(state, entry, event, ruled, book))
    return sorted(found, key=lambda each: (each.event.ended_s, each.entry.pk), reverse=True)


def record_of(coated):
    """{sign: Sign} of a coat as its record has it; a sign that nobody told is not in it."""
    told = {name: sign for name, (aspect, rules) in BY_RULE.items() if (sign := _by_rule(coated, aspect, rules))}
    for more in (_wet, _air, _thinner, _gun, _line, _under, _warmed, _beside):
        told |= more(coated)
    return told


def _by_rule(coated, aspect, rules):
    """What the one judge says of a sign, None where it was not judged."""
    full = coated.ruled.full
    said = next((v for v in full.verdicts if v.rule in rules), None)
    if said is not None:
        return Sign(Says.SHOWS, said.sentence)
    if aspect not in full.concerned or aspect in full.missing:
        return None
    return Sign(Says.NOT, f"{aspect.value}: looked at")


def _wet(coated):
    """The wet film beside what runs: only a comb tells it."""
    sags = coated.sheet.film.sag_wft_um if coated.sheet and coated.sheet.film else None
    readings = coated.entry.coat.wft_um
    if not readings or sags is None:
        return {"wet": Sign(Says.UNTOLD)}
    most = max(readings)
    says = Says.SHOWS if most > sags else Says.NOT
    return {"wet": Sign(says, f"{film_q(most)} wet, it runs from {film_q(sags)}")}


def _air(coated):
    """Air and metal at its begin, where they were logged; the judge has said what is out of its sheet."""
    each, coat = coated.state.facts, coated.entry.coat
    if each.where is None:
        return {}
    at = each.where.at(coated.event.began_s)
    air_c, rh, basis = at.air_c, at.rh_pct, at.basis
    if coat.reading is not None:
        air_c, rh, basis = coat.reading.air_c, coat.reading.rh_pct, Basis.MEASURED
    names = {"cold": air_c < 12.0, "hot": air_c > 28.0, "damp": rh > 75.0, "dry": rh < 30.0}
    words = f"{celsius_q(air_c, digits=1)}, {rh:.0f} %, {basis.value}"
    found = {name: Sign(Says.SHOWS, words) for name, shows in names.items() if shows}
    for name in names.keys() - found.keys():
        was = _by_rule(coated, *BY_RULE[name])
        found[name] = was if was is not None and was.says is Says.SHOWS else Sign(Says.NOT, words)
    if basis is Basis.ASSUMED:
        found = {name: Sign(Says.UNTOLD) for name in names}
    if coat.surface_c is not None:
        over = coat.surface_c - air_c
        says = Says.SHOWS if over > HOT_METAL_K else Says.NOT
        found["hot-metal"] = Sign(
            says, f"metal {celsius_q(coat.surface_c, digits=1)}, air {celsius_q(air_c, digits=1)}"
        )
    found["outdoors"] = _outdoors(coated)
    return found


def _outdoors(coated):
    place = coated.state.facts.place
    if place is None:
        return Sign(Says.UNTOLD)
    out = coated.state.all.is_out(place)
    return _sign(out, f"it stands in {place.name}")


def _thinner(coated):
    """Thinner beside what its sheet names for the method."""
    told = coated.sheet.thinner_pct if coated.sheet else {}
    named = told.get(coated.entry.coat.method)
    if named is None:
        return {}
    used = coated.entry.coat.thinner_pct
    words = f"{used:g} % thinner, its sheet names {named:g}"
    much, little = used > named + 1.0, used < 0.5 * named
    return {
        "much-thinner": _sign(much, words),
        "little-thinner": _sign(little, words),
    }


def _gun(coated):
    """The gun as it was measured: its distance, the hand's speed, the overlap that was told of the coat."""
    method, found = coated.entry.coat.method, {}
    told = told_of(method)
    distance, usual = told.get("distance"), USUAL_MM.get(method)
    if distance and usual:
        words = f"held at {length_q(distance)}, usual {length_q(usual)}"
        found["far"] = _sign(distance > FAR * usual, words)
        found["near"] = _sign(distance < NEAR * usual, words)
    speed = told.get("speed")
    if speed:
        words = f"{quantity('speed', speed, digits=2)} as it was timed"
        found["slow"] = _sign(speed < SLOW_M_S, words)
    overlap = coated.entry.coat.gun.get("overlap_pct") or told.get("overlap")
    if overlap:
        found["uneven"] = _sign(overlap < WIDE_PCT, f"overlap {overlap:g} %")
    return found


def _line(coated):
    """The look at the air line on the day of the coat, before it."""
    began = coated.entry.began
    day = began.astimezone(coated.state.all.workshop.zone).replace(hour=0, minute=0, second=0, microsecond=0)
    rows = Checked.objects.filter(check_kind="air-line", entry__in=Entry.objects.known_at())
    looked = rows.filter(entry__ended__gte=day, entry__ended__lte=began).order_by("-entry__ended").first()
    if looked is None:
        return {}
    return {"line": _sign(not looked.passed, "looked at that day" if looked.passed else "oil or water that day")}


def _under(coated):
    """What lay under it when it was begun: filler, its age, a dye."""
    event, each = coated.event, coated.state.facts
    coats = (e for e in each.events if isinstance(e, events.Coated) and e.ended_s <= event.began_s)
    below = [e for e in coats if e.sheet is not None]
    if not below:
        return {}
    porous = [e.sheet.product for e in below if e.sheet.kind in POROUS]
    found = {"porous": _sign(porous, f"over {porous[-1]}" if porous else "no filler under it")}
    return found | _dye(below) | _young(event, below)


def _sign(shows, words):
    return Sign(Says.SHOWS if shows else Says.NOT, words)


def _dye(below):
    """Whether any of the coats below bleeds, where a sheet of them tells it."""
    if all(e.sheet.bleeding is None for e in below):
        return {}
    dyes = [e.sheet.product for e in below if e.sheet.bleeding]
    return {"bleeding": _sign(dyes, f"{dyes[-1]} lies under it" if dyes else "none that bleeds under it")}


def _young(event, below):
    """How old the last of what shrinks was when a coat was begun."""
    soft = [e for e in below if e.sheet.kind in SHRINKS]
    if not soft:
        return {}
    hours = (event.began_s - soft[-1].ended_s) / 3600.0
    return {"young": _sign(hours < YOUNG_H, f"{soft[-1].product} {lasting(60 * hours)} old")}


def _warmed(coated):
    """Warming that was begun before its flash was over."""
    sheet, each, event = coated.sheet, coated.state.facts, coated.event
    if sheet is None or "flash" not in sheet.times or each.where is None:
        return {}
    until = crossing(each.where, sheet.times["flash"], event.ended_s).t_s
    early = [
        e for e in each.events if isinstance(e, events.Heated) and event.ended_s <= e.began_s < (until or event.ended_s)
    ]
    return {
        "forced": Sign(
            Says.SHOWS if early else Says.NOT, "warmed within its flash" if early else "not warmed within its flash"
        )
    }


def _beside(coated):
    """Dry sanding in the same place while it was wet."""
    event, place = coated.event, coated.state.facts.place
    if place is None:
        return {}
    for each in coated.book.facts.zones.values():
        if each.place != place or each.zone.pk == coated.state.zone.pk:
            continue
        for keyed in each.events:
            if (
                isinstance(keyed, events.Keyed)
                and keyed.began_s < event.ended_s + 1800
                and keyed.ended_s > event.began_s
            ):
                return {"dust": Sign(Says.SHOWS, f"{each.zone.name} was sanded meanwhile")}
    return {"dust": Sign(Says.NOT, "nothing was sanded there meanwhile")}


def film_there(state):
    """The uppermost film (core Film): its layers of one product, the least that is left of them, what is to be kept."""
    layers = state.surface.layers
    top = layers[-1] if layers else None
    if top is None:
        return Film(None, Basis.ASSUMED, polishes=False)
    mine = [layer for layer in layers if layer.key == top.key]
    told = [layer.least_um for layer in mine]
    there = None if any(um is None for um in told) else sum(told)
    keep, basis = _to_keep(top.sheet.film if top.sheet else None, len(mine))
    polishes = top.sheet is not None and top.sheet.kind in POLISHED
    return Film(there, _weakest(layer.film.basis for layer in mine), keep, basis, polishes)


def _to_keep(limits, coats):
    """(the least film to be left [µm], Basis) of so many coats of a sheet with these limits: its least in each that it
    asks for, what was put on beyond those is to spare.
    """
    if limits is None or not limits.min_um:
        return KEEP_UM, Basis.ASSUMED
    return limits.min_um * (limits.coats or coats), Basis.SHEET


def _weakest(bases):
    order = [Basis.MEASURED, Basis.COMPUTED, Basis.ESTIMATED, Basis.TYPED, Basis.SHEET, Basis.FORECAST, Basis.ASSUMED]
    return max(bases, key=order.index)


def waits_until(state, role):
    """(when the uppermost film is through a time of its sheet [epoch s], which time); (None, "") where nobody tells.

    role: "flash", "sandable", "cure"; the next longer that is told stands in for it.
    """
    top, where = state.surface.top, state.facts.where
    if top is None or top.sheet is None or where is None:
        return None, ""
    roles = {"flash": ("flash", "touch"), "sandable": ("sandable", "handle", "cure"), "cure": ("cure", "sandable")}[
        role
    ]
    for name in roles:
        if name in top.sheet.times:
            longer = thicker(top.film.dft_um, top.sheet.aim_um)
            return crossing(where, top.sheet.times[name], top.ended_s, longer).t_s, name
    return None, ""
