"""What a ruling says on a page: its headline, the button that leads to a fix."""

from dataclasses import dataclass

from emplastra.core.rules.face import Tense
from emplastra.core.rules.fixes import FIXES
from emplastra.core.surface.steps import STEPS
from emplastra.shared.links import Go

WORDS = {
    "stops": "Stop",
    "warns": "Take care",
    "advises": "Advice",
    "not judged": "Clear so far",
    "clean": "Clear",
}
"""The gravest word of a ruling -> its headline."""
WAITS = frozenset({"early", "soft", "still-wet"})
"""Rules that say only that it is too early."""
SURVEYED = "survey:sheet"


@dataclass(frozen=True)
class Fix:
    """Where a verdict's fix is: a button's label, the page it leads to, or the key of steps for the plan."""

    label: str
    go: Go | None = None
    steps: str = ""


def _log(kind, **query):
    return lambda zone: Go("work:log", (zone.pk, kind), tuple(query.items()))


def _page(name):
    return lambda zone: Go(name, (zone.pk,))


def _sheet(zone):
    return Go(SURVEYED, (zone.pk, "bared"))


def _found(group):
    return lambda zone: Go(SURVEYED, (zone.pk, "found"), anchor=f"g-{group}")


def _plan(zone):
    return Go("plans:build-up", (zone.pk,), anchor="put-in")


LINKS = {
    "wipe": ("Wipe it", _log("degreased")),
    "wax-off": ("Wax off", _log("degreased")),
    "rinse": ("Rinse it", _log("rinsed")),
    "key-strip": ("Key that strip", _log("keyed")),
    "dry-check": ("Dry again: say so", _log("checked", said="kept-dry:1")),
    "air-line": ("Air line: say so", _log("checked", said="air-line:1")),
    "dry": ("Blow it dry", _log("dried")),
    "wet": ("Acid on again", _log("prepped")),
    "acid": ("Acid on again", _log("prepped")),
    "strip": ("Ways to strip", _page("metal:strip")),
    "ways": ("Another way", _page("metal:strip")),
    "near": ("Say what is out", _found("around")),
    "drains": ("Probed: say so", _log("checked", said="drains:1")),
    "wait": ("When it fits", lambda zone: Go("bench:windows", ())),
    "product": ("Choose another", _page("plans:build-up")),
    "turn": ("To the plan", _plan),
    "coat": ("Coat it", _log("coat")),
    "wax": ("Plan wax", _plan),
    "access": ("To the plan of access", lambda zone: Go("metal:access", (zone.job_id,))),
    "overpaint": ("Plan a coat over it", _plan),
    "prime": ("Plan a primer", _plan),
    "isolate": ("Plan epoxy", _plan),
    "surface": ("Plan surfacer", _plan),
    "seal": ("Plan a sealer", _plan),
    "seal-first": ("Plan sealer", _plan),
    "mend": ("To the finding", lambda zone: Go("survey:findings", (zone.job_id,))),
    "wash": ("Wash, look again", _sheet),
    "look": ("Look at it", _sheet),
    "test": ("Say what a test found", _found("layers")),
    "held": ("Say what it held", _found("around")),
    "inspect": ("Look it through", _log("inspected")),
    "measure": ("Correct measures", _page("jobs:edit-zone")),
    "verdict": ("Verdict on the metal", lambda zone: Go("metal:verdict", (zone.job_id,), (("zone", zone.pk),))),
    "watch": ("Set a day for the next look", _page("survey:put-off")),
    "take-off": ("Taken off again", _log("access", how="taken-off")),
    "open": ("Opened", _log("access", how="opened")),
    "mix": ("Mix", _page("work:mix")),
    "mids": ("To the colour", lambda zone: Go("colour:colour", (zone.job_id,), (("zone", zone.pk),))),
    "lights": ("Lights off", _log("lit")),
    "mask": ("Mask it", _log("masked")),
    "unmask": ("Mask off", _log("unmasked")),
    "mask-beside": ("Mask what is beside it", lambda zone: Go("colour:masking", (zone.job_id,), (("zone", zone.pk),))),
    "gauge": ("Where to add", _page("measure:film")),
    "solder": ("Solder", _page("metal:solder")),
}
"""Fix -> (its button, where it leads)."""


NO_FIX = {
    "early": "only time opens it",
    "soft": "only time hardens it",
    "inspection": "a qualified inspection decides, no page does",
    "outgas": "only its maker can say",
    "recalled": "take a tin of another batch",
    "over-what": "choose another product, or another order",
}
"""Rule that stops -> why no button mends it."""


def _is_for_the_plan(verdict, tense):
    """True if a verdict's fix changes the plan: what can be done at once is done, not planned."""
    return verdict.fix in FIXES and (tense == Tense.PLAN or verdict.fix not in LINKS)


def fix_of(zone, verdict, ruled=None):
    """The fix of a verdict on a zone, None where it has none: for the plan, if that holds judged again; else a page."""
    if ruled is not None and _is_for_the_plan(verdict, ruled.act.tense) and ruled.mends(verdict):
        return Fix(FIXES[verdict.fix][0], None, verdict.fix)
    if verdict.fix == "key":
        return Fix("Key it", _log("keyed")(zone))
    if verdict.fix == "mend" and verdict.about:
        return Fix(LINKS["mend"][0], Go("survey:finding-of", (zone.pk, verdict.about.split("/")[0])))
    if verdict.fix in LINKS:
        label, go = LINKS[verdict.fix]
        burnt = [fact.value for fact in verdict.read if fact.name.endswith("burnt_share")]
        return Fix(label, go(zone).asking(share=f"{100 * burnt[0]:.1f}") if burnt else go(zone))
    return None


def button_of(zone, verdict):
    """(label, Go) of a stop that takes the place of an act's button: to its fix, or to where it is said."""
    found = fix_of(zone, verdict)
    here = Go("work:now", (zone.pk,), anchor="ruling")
    if found is None:
        return "See why", here
    return found.label, found.go or here


def headline(ruled):
    """The headline of what is said of an act: a stop that is only a matter of hours says so."""
    waits = ruled.word == "stops" and all(v.rule in WAITS for v in ruled.open if v.severity == "stops")
    return "Wait" if waits else WORDS[ruled.word]


def act_words(act):
    """An act in words: what is done, with which coat of what."""
    name = STEPS[act.kind].name
    if not act.product:
        return name
    return f"{name}: {act.product}" + (f", coat {act.coat}" if act.coat > 1 else "")
