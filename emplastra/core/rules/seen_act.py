"""An act as rules see it: what a rule reads is noted."""

import math

from ..air.dewpoint import Breach
from ..product.film import BY_AIR, METHODS
from ..product.sheet import Sheet
from ..surface.names import StepKind
from ..surface.steps import STEPS
from ..words import TOLD_S
from .face import SANDS, Act, PartFact, Tense
from .facts import Notes, View, graded, reads

"""Methods that spray with air of a line."""


class SeenAct(View):
    """The act."""

    of = "act."

    def __init__(self, notes: Notes, act: Act) -> None:
        super().__init__(notes)
        self.raw = act

    @property
    def tense(self) -> Tense:
        """No fact: a plan, an act and its record share what is accepted of them."""
        return self.raw.tense

    @property
    def name(self) -> str:
        """What it puts on, else what is done, in words."""
        return self.raw.product or STEPS[self.raw.kind].name

    @property
    def sheet(self) -> Sheet | None:
        """The sheet of what is put on."""
        return self.raw.sheet

    @reads
    def kind(self) -> str:
        """What kind of step it is."""
        return self.raw.kind

    @property
    def is_coat(self) -> bool:
        """True if it leaves a coat; which rule looks at it follows from it."""
        return self.raw.is_coat

    @reads
    def product(self) -> str:
        """What it puts on."""
        return self.raw.product

    @reads
    def product_kind(self) -> str:
        """What kind of product it puts on."""
        return self.raw.product_kind

    @graded(+1, 5.0)
    def early_pot_min(self) -> float:
        """How long before the end of its induction its pot is used [min]."""
        usable, began = (self.raw.pot.usable_s if self.raw.pot else None), self.raw.began_s
        early = usable is not None and began is not None and began <= usable - TOLD_S
        return (usable - began) / 60 if early and usable is not None and began is not None else 0.0

    @graded(+1, 5.0)
    def late_pot_min(self) -> float:
        """How long after its end its pot is used [min]."""
        dead, ended = (self.raw.pot.dead_s if self.raw.pot else None), self.raw.ended_s
        late = dead is not None and ended is not None and ended >= dead + TOLD_S
        return (ended - dead) / 60 if late and dead is not None and ended is not None else 0.0

    @reads
    def unmixed(self) -> bool:
        """Whether parts to mix come from no pot."""
        return self.raw.mixed is False and self.raw.sheet is not None and self.raw.sheet.form == "mixed"

    @reads
    def kits(self) -> tuple[str, ...]:
        """Kits that its tins belong to, each once: parts of one came together."""
        return tuple(dict.fromkeys(tin.kit for tin in self.raw.tins if tin.kit))

    @reads
    def parts(self) -> tuple[PartFact, ...]:
        """Parts of the pot that is to be mixed for it, as the store has them."""
        return self.raw.parts

    def broken(self, which: str) -> list[Breach]:
        """Limits of air that are broken until the end of flash, of one kind; each is noted, by how much it is."""
        found = self.raw.fit.gate.breaches if self.raw.fit else ()
        return [self._noted(b, "") for b in found if self._kind(b) == which]

    def _kind(self, breach: Breach) -> str:
        """Which rule of air a broken limit is of; "usual" where the sheet names none."""
        sheet = self.raw.sheet
        if _kind(breach) == "damp" and sheet is not None and sheet.limits.rh_pct[1] is None:
            return "usual"
        return _kind(breach)

    @reads
    def hazards(self) -> tuple[str, ...]:
        """What its sheet warns of."""
        return self.raw.sheet.hazards if self.raw.sheet else ()

    @reads
    def reducer(self) -> str:
        """What it was thinned with, "" for what its sheet names."""
        return self.raw.reducer

    @reads
    def sprayed(self) -> bool:
        """Whether it is sprayed with air of a line."""
        return self.raw.method in BY_AIR

    @reads
    def flies(self) -> bool:
        """Whether it is sprayed in any way, so that some of it lands beside."""
        return self.raw.method in METHODS and METHODS[self.raw.method].is_sprayed

    def broken_later(self) -> list[Breach]:
        """Limits of air that are broken from then until it is hard, and were not before."""
        fit = self.raw.fit
        if fit is None:
            return []
        before = {self._kind(b) for b in fit.gate.breaches}
        later = [b for b in fit.later.breaches if self._kind(b) in {"dew", "damp", "cold"} - before]
        return [self._noted(b, "later-") for b in later]

    def _noted(self, breach: Breach, when: str) -> Breach:
        worse = -1 if breach.side == "low" else +1
        self.note(f"{when}{breach.what}-{breach.side}", breach.value, worse, 5.0 if breach.unit == "%" else 1.0)
        return breach

    @property
    def in_plan(self) -> bool:
        """Whether it is of a plan, so that what the plan has is known."""
        return self.raw.in_plan

    def later(self, *kinds: str) -> bool:
        """True if a step of these kinds comes later in its plan; noted."""
        return self._noted_step("later", kinds, self.raw.after)

    def earlier(self, *kinds: str) -> bool:
        """True if a step of these kinds comes before it in its plan; noted."""
        return self._noted_step("earlier", kinds, self.raw.before)

    def _noted_step(self, when: str, kinds: tuple[str, ...], steps: tuple[str, ...]) -> bool:
        found = not set(kinds).isdisjoint(steps)
        self.note(f"{when}-{min(kinds)}", found)
        return found

    @reads
    def brushed(self) -> bool:
        """Whether it is brushed on, and so worked into edges."""
        return self.raw.method == "brush"

    @reads
    def way(self) -> str:
        """The way of stripping."""
        return self.raw.way

    @property
    def dusty_way(self) -> str:
        """The way of stripping that its dust is like, "" for what makes none; its kind and way are read."""
        return self.way if self.kind == StepKind.STRIP else "sander" if self.kind in SANDS else ""

    @graded(-1, 5.0)
    def over_um(self) -> float:
        """Film that will lie over what it lands on, up to the next that is sanded flat [µm]; inf: cannot be said."""
        return math.inf if self.raw.over_um is None else self.raw.over_um

    @graded(+1, 5.0)
    def film_um(self) -> float:
        """Film of the coat [µm], where it is too thick; 0 where it cannot be said, which is missing elsewhere."""
        return (self.raw.film.dft_um if self.raw.film else None) or 0.0

    @graded(-1, 2.0)
    def thin_um(self) -> float:
        """Film of the coat [µm], where it is too thin; inf where it cannot be said."""
        um = self.raw.film.dft_um if self.raw.film else 0.0
        return math.inf if um is None else um

    @graded(+1, 5.0)
    def wet_um(self) -> float:
        """Mean wet film read [µm]."""
        return self.raw.wet_um or 0.0

    @graded(+1, 2.0)
    def metal_c(self) -> float:
        """How hot it makes the metal [°C], 0 where nobody told."""
        return self.raw.metal_c or 0.0

    @graded(+1, 2.0)
    def sanded_um(self) -> float:
        """What blocking takes of its layer [µm]."""
        return self.raw.sanded_um


def _kind(breach: Breach) -> str:
    """Which rule of air a broken limit is of."""
    low = breach.side == "low"
    return {"spread": "dew", "humidity": "dry" if low else "damp"}.get(breach.what, "cold" if low else "hot")
