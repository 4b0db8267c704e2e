"""What follows from what the judge had to say: how it shows, after how long, and where it could have been seen before.

When and how a fault shows: common practice, no source. The rules and their figures are the judge's own.
"""

from dataclasses import dataclass

from ..rules.registry import REGISTRY, Aspect, Verdict

SUN = "sun"
"""Shows once it stands in the sun."""


@dataclass(frozen=True)
class Shows:
    """How something shows: its name, hours after the act (or SUN), and what mends it in hours of work."""

    name: str
    after_h: float | str = 1.0
    again_h: float = 1.0


OF_RULE: dict[str, Shows] = {
    "early": Shows("Lifted edge", 0.7, 2.0),
    "late": Shows("Peels", 20.0, 2.5),
    "soft": Shows("Torn by the paper", 0.0, 1.0),
    "induction": Shows("Craters from a pot that was not ready", 0.5, 1.5),
    "dead-pot": Shows("Pot gone off: stays soft", 6.0, 3.0),
    "unmixed": Shows("Never hardens", 6.0, 3.0),
    "ratio": Shows("Stays soft", 8.0, 3.0),
    "thin": Shows("Shows through", 1.0, 1.0),
    "thick": Shows("Solvent under a skin", 5.0, 2.5),
    "sag": Shows("Runs", 0.2, 1.5),
    "foams": Shows("Bubbles", 1.5, 2.0),
    "blush": Shows("Milky in the morning", 9.0, 1.0),
    "grit-coarse": Shows("Scratches print through in the sun", SUN, 6.0),
    "scratch": Shows("Scratches print through in the sun", SUN, 6.0),
    "grit-fine": Shows("Peels", 30.0, 2.5),
    "cut-through": Shows("A ring where it was cut through", 0.0, 1.5),
    "over-what": Shows("Lifts", 1.0, 3.0),
    "burnished": Shows("Peels", 24.0, 2.5),
    "smooth": Shows("Peels", 24.0, 2.5),
    "dry-spray": Shows("Dry spray", 0.2, 1.2),
    "flash-rust": Shows("Flash rust", 0.0, 1.3),
    "weld-burns": Shows("Burnt far side", 0.0, 2.5),
    "hidden-bare": Shows("Bare metal shut in", 0.0, 2.5),
    "harm": Shows("Harm", 4.0, 0.0),
}
"""Rule -> how what it speaks of shows."""
OF_ASPECT: dict[Aspect, Shows] = {
    Aspect.METAL: Shows("Rust comes through", 60.0, 4.0),
    Aspect.FINDINGS: Shows("What was found comes through", 40.0, 3.0),
    Aspect.PREPARATION: Shows("Peels", 24.0, 2.5),
    Aspect.CLEAN: Shows("Craters", 0.3, 1.5),
    Aspect.BARE: Shows("Rust under the film", 60.0, 4.0),
    Aspect.UNDER: Shows("Lifts", 1.0, 3.0),
    Aspect.WINDOW: Shows("Lifts", 1.0, 2.0),
    Aspect.AIR: Shows("Dull, blushed", 3.0, 1.5),
    Aspect.FILM: Shows("Film out of its limits", 2.0, 1.5),
    Aspect.GRIT: Shows("Scratches print through in the sun", SUN, 6.0),
    Aspect.POT: Shows("Stays soft", 6.0, 3.0),
    Aspect.ACCESS: Shows("Not reached", 0.0, 2.0),
    Aspect.COLOUR: Shows("Another shade", 2.0, 3.0),
    Aspect.SAFETY: Shows("Harm", 4.0, 0.0),
}
"""Aspect -> how it shows where its rule has nothing of its own."""
SEEN: dict[Aspect, str] = {
    Aspect.METAL: "in the survey: the deepest pit against the thickness",
    Aspect.FINDINGS: "in the survey, before the first coat",
    Aspect.PREPARATION: "in the ruling on the next act: keyed, wiped, how long ago",
    Aspect.CLEAN: "on a white cloth, and in the hours since the wipe",
    Aspect.BARE: "on the saw-tooth of the lifeline: the hours that bare metal has in this air",
    Aspect.UNDER: "in the ruling: what goes on what",
    Aspect.WINDOW: "on the lifeline: where it is hatched it is not open yet",
    Aspect.AIR: "in the air band: dew point against the metal",
    Aspect.FILM: "on the comb while it was wet",
    Aspect.GRIT: "on the ladder of grits in the plan",
    Aspect.POT: "on the pot’s own clock, and on the scale",
    Aspect.ACCESS: "in the plan of access, before it was shut",
    Aspect.COLOUR: "under a lamp, before the clear",
    Aspect.SAFETY: "in the caution beside the step",
}
"""Aspect -> where it could have been seen before."""
TITLES = {
    "ratio": "A pot is within the tolerance of its sheet",
    "flash-rust": "Bare steel is under primer before its hours add up to one",
    "dry-spray": "Paint arrives wet: the gun is held at its distance",
    "weld-burns": "A weld burns the film on the far side",
    "harm": "The caution of the step is taken",
}
"""What the rules that speak here without an act of the judge's say."""


def shows_of(rule: str, aspect: Aspect | None = None) -> Shows:
    """How what a rule speaks of shows."""
    if rule in OF_RULE or aspect is None:
        return OF_RULE[rule]
    return OF_ASPECT.get(aspect, Shows("A fault", 2.0, 1.0))


def title_of(rule: str) -> str:
    """What a rule asks, in words."""
    return TITLES[rule] if rule in TITLES else REGISTRY[rule].title


def speaks(verdict: Verdict) -> bool:
    """True for a verdict from which something follows: it stops or warns."""
    return verdict.severity in {"stops", "warns"} and verdict.rule not in QUIET


QUIET = frozenset({"short", "reserve", "unmatched", "two-batches", "air-line", "weld-unseen", "wet-caution"})
"""Rules of the store and of looking, of which practice has nothing."""
