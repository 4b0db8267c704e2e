"""A list of steps as it is looked at before any zone is chosen: its core sample, where it fits, why it stands so."""

from dataclasses import dataclass

from emplastra.core.rules.trial import face_of, ground_named, try_on, where_it_fits
from emplastra.core.surface.fold import Surface
from emplastra.core.surface.lasts import waits_of
from emplastra.core.surface.plan import PlanStep
from emplastra.core.surface.ready import MILD_C, Fits
from emplastra.core.surface.steps import STEPS
from emplastra.core.surface.why import reasons
from emplastra.jobs.judging import workshop_schools
from emplastra.materials.selectors import sheets_named
from emplastra.state.ruling import Ruled
from emplastra.state.stack import sample


@dataclass(frozen=True)
class Taken:
    """What a system takes for granted: answers of its school, where it fits, the most of all its layers [µm]."""

    schools: dict
    fits: Fits
    most_um: float | None

    @property
    def finish(self):
        """The finish class it is looked at with."""
        return self.fits.finishes[0] if self.fits.finishes else "show"

    @property
    def part(self):
        """The form of part it is looked at on."""
        return self.fits.parts[0] if self.fits.parts else "skin"


def fits_of(about):
    """The core's value of where a system fits, of what its version says."""
    told = (about or {}).get("fits") or {}
    lists = {name: tuple(told.get(name) or ()) for name in ("substrates", "finishes", "parts")}
    return Fits(**lists, rust=bool(told.get("rust")))


def first_ground(fits):
    """The key of the ground that a system is meant for first."""
    if fits.rust:
        return "rust"
    metal = fits.substrates[0] if fits.substrates else "steel"
    return metal.replace(" ", "-")


def numbered(rows):
    """PlanSteps of stored steps, with ids by their places."""
    known = PlanStep.__dataclass_fields__
    return tuple(
        PlanStep(**{k: v for k, v in {**row, "id": f"s{i}"}.items() if k in known}) for i, row in enumerate(rows, 1)
    )


def steps_of(version):
    """PlanSteps of a system's version."""
    return numbered(version.steps)


def sheets_for(steps, known=None):
    """{product name: its sheet} of these steps; known: sheets that are loaded already, which stay among them."""
    known = known or {}
    return {**known, **sheets_named({step.product for step in steps if step.product} - set(known))}


def by_step(steps, rulings):
    """[(step id, its Ruled, all its coats as one, or None)] of every step, in order."""
    found = {}
    for at, ruled in rulings:
        held = found.get(at.step.id)
        found[at.step.id] = ruled if held is None else held.joined(ruled)
    return [(step.id, found.get(step.id)) for step in steps]


def look(steps, taken, ground_key=""):
    """What a page shows of steps: sample, what is said of each on one ground, how they do on all, reasons.

    taken: what the system takes for granted.
    """
    sheets = sheets_for(steps)
    ground = ground_named(ground_key or first_ground(taken.fits))
    schools = workshop_schools() | taken.schools
    face = face_of(ground, taken.finish, taken.part, most_um=taken.most_um)
    tried = [(at, Ruled(ruling, ruling)) for at, ruling in try_on(steps, sheets, face, schools)]
    why = reasons(steps, sheets)
    return {
        "sample": sample(steps, Surface(0.0), sheets, tried, facts=False),
        "limit": taken.most_um,
        "rulings": by_step(steps, tried),
        "reasons": [(step, why.get(step.id, "")) for step in steps],
        "ground": ground,
        "grounds": where_it_fits(steps, sheets, schools, taken.finish, taken.part),
        "waits": waits_of(steps, sheets, MILD_C),
        "lacks": [s for s in steps if STEPS[s.kind].leaves_film and s.product not in sheets],
    }
