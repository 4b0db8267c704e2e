"""Steps moved, put in, taken out and given another product while they are typed: nothing is saved by it."""

from emplastra.core.surface.plan import misplaced
from emplastra.core.surface.ready import with_sheet
from emplastra.core.surface.steps import STEPS
from emplastra.core.words import film_q
from emplastra.jobs.services import new_step_id
from emplastra.materials.selectors import current_sheet, products_of

from .forms import steps_sent


class Arranged:
    """A form's data after one change of its steps; said: what came of it, by step id ("": of the whole)."""

    def __init__(self, data, stored, done=()):
        """data: as it was sent (QueryDict); stored: the saved PlanSteps; done: ids of steps that are done."""
        self.data, self.stored, self.done = data.copy(), stored, frozenset(done)
        self.before = steps_sent(data, stored)
        self.steps, self.said = list(self.before), {}

    def change(self, asked):
        """One change: "up:id", "down:id", "delete:id", "sheet:id", or "add"; anything else does nothing."""
        how, _, key = asked.partition(":")
        at = next((i for i, step in enumerate(self.steps) if step.id == key), None)
        if how == "add":
            self._add()
        elif at is not None and how in self.WAYS:
            self.WAYS[how](self, at)
        self._hold()
        self.data["order"] = ",".join(step.id for step in self.steps)
        return self

    def _delete(self, at):
        if self.steps[at].id not in self.done:
            del self.steps[at]

    def _up(self, at):
        self.steps.insert(max(0, at - 1), self.steps.pop(at))

    def _down(self, at):
        self.steps.insert(at + 1, self.steps.pop(at))

    def _sheet(self, at):
        self._take_sheet(self.steps[at])

    WAYS = {"delete": _delete, "up": _up, "down": _down, "sheet": _sheet}

    def _hold(self):
        """Nothing goes before what is done."""
        found = misplaced(self.before, self.steps, self.done)
        if found is not None:
            self.steps = list(self.before)
            self.said[""] = found.sentence

    def _add(self):
        kind, product = self.data.get("new-kind", ""), self.data.get("new-product", "")
        if kind not in STEPS:
            self.said[""] = "Choose what is to be put in."
            return
        key = new_step_id()
        self.data[f"{key}-kind"] = kind
        names = [p.name for p in products_of(STEPS[kind].products)] if STEPS[kind].products else []
        product = product if product in names else next(iter(names), "")
        values = {"product": product, "coats": "1", "sanded_um": "0", "thinner_pct": "0", "method": "brush"}
        for name, value in values.items():
            self.data[f"{key}-{name}"] = value
        after = self.data.get("new-after", "")
        at = next((i for i, step in enumerate(self.steps, 1) if step.id == after), 0 if after == "first" else None)
        self.data["order"] = ",".join([*(s.id for s in self.steps), key])
        step = steps_sent(self.data, self.stored)[-1]
        self.steps.insert(len(self.steps) if at is None else at, step)
        if STEPS[kind].leaves_film:
            self._take_sheet(step, told=False)

    def _take_sheet(self, step, told=True):
        """Film, coats, method and thinner as the sheet of its product has them."""
        sheet = current_sheet(self.data.get(f"{step.id}-product", ""))
        if sheet is None:
            return
        was = self.data.get(f"{step.id}-coats"), self.data.get(f"{step.id}-dft_um")
        found = with_sheet({"method": self.data.get(f"{step.id}-method", "")}, sheet)
        um = found["dft_um"]
        self.data[f"{step.id}-dft_um"] = "" if um is None else f"{um:g} µm"
        for name in ("coats", "method"):
            self.data[f"{step.id}-{name}"] = str(found[name])
        self.data[f"{step.id}-thinner_pct"] = f"{found['thinner_pct']:g}"
        if told:
            film = "film not told" if um is None else f"{found['coats']} × {film_q(um)}"
            before = f"{was[0] or 1} × {was[1]}" if was[1] else "nothing"
            self.said[step.id] = f"As the sheet of {sheet.product} has it: {film}. It was {before}."
