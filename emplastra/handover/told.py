"""How a dossier speaks: its figures and days in the units and the zone of the workshop, with years."""

from emplastra.core.air.lag import SUBSTRATES
from emplastra.core.care.after import May
from emplastra.core.care.watch import Look
from emplastra.core.product.mixing import PotPlan
from emplastra.core.units import show
from emplastra.core.words import area_q, film_q, length_q, written
from emplastra.shared.times import from_epoch

ISOCYANATE = "isocyanate"


def list_of(words):
    """ "a, b and c" from words."""
    *most, last = words
    return f"{', '.join(most)} and {last}" if most else last


def metal_of(revision):
    """What a face is made of, and how thick."""
    return f"{SUBSTRATES[revision.substrate][0]} {length_q(revision.thickness_mm)}"


def known_by(basis, how):
    """By what a film is known, in a word or two."""
    if basis == "measured":
        return "gauge"
    if basis == "computed":
        return "comb" if "wet film" in how else "by litres"
    return "planned" if basis == "assumed" else basis


class Told:
    """A dossier's sentences for a workshop."""

    do_not_call_in_templates = True

    how_to_read = (
        "How to read it: film by gauge was measured on the metal, by comb while it was wet, by litres from what was "
        "used; “planned” is what was meant to be put on. What was not seen is not said to be sound. Load-carrying, "
        "brake and pressure parts want qualified inspection. The data sheet, local codes and licensed practice come "
        "first."
    )

    def __init__(self, workshop):
        self.workshop, self.zone = workshop, workshop.zone

    def __call__(self, text):
        return written(text, self.workshop.units, lambda t_s: self.day_year(from_epoch(t_s)))

    def day(self, moment):
        """A day with its year: of a date, an aware moment or epoch seconds."""
        if moment is None:
            return "–"
        here = from_epoch(moment) if isinstance(moment, (int, float)) else moment
        here = here.astimezone(self.zone) if hasattr(here, "hour") else here
        return f"{here.day} {here:%b %Y}"

    def month(self, day):
        """A month with its year."""
        return f"{day:%b %Y}"

    def day_year(self, moment):
        """A moment with its year and hour."""
        here = (from_epoch(moment) if isinstance(moment, (int, float)) else moment).astimezone(self.zone)
        return f"{here:%a} {here.day} {here:%b %Y, %H:%M}"

    # The whole piece

    def cover_line(self, d):
        """What it is, for whom, by which standard."""
        label = f"For {d.job.owner_label}. " if d.job.owner_label else ""
        return f"{label}{d.job.get_standard_display()}."

    def cover(self, d):
        """The lines of the cover that say how it stands."""
        coated = [p for p in d.faces if p.face.built.end_state == "coated"]
        rest = [p.zone.name for p in d.faces if p.face.built.end_state != "coated"]
        lines = []
        if d.began_s is not None:
            lines.append(
                f"Worked on from {self.day(d.began_s)} to {self.day(d.finished_s or d.as_of)} at {d.workshop.name}."
            )
        said = f"{len(d.faces)} face{'s' if len(d.faces) != 1 else ''}, {len(coated)} coated"
        lines.append(f"{said}; left as they are: {list_of(rest)}." if rest else f"{said}.")
        if d.open_acts:
            lines.append(
                f"Not finished: {d.open_acts} face{'s' if d.open_acts != 1 else ''} with work still planned. "
                "What follows is how it stands."
            )
        if d.schedule:
            look, names = d.schedule[0]
            lines.append(f"Look first in {self.month(look.first)}: {look.what.lower()} ({list_of(names[:3])}).")
        return lines

    def face_row(self, page):
        """A face in the list of all."""
        revision = page.face.revision
        what = (
            f"{metal_of(revision)}, {area_q(revision.area_m2)}, {revision.get_finish_class_display().lower()}"
            if revision
            else ""
        )
        lies = (
            self.film(page)
            if page.strata
            else page.face.revision.get_end_state_display()
            if revision
            else "nothing yet"
        )
        look = page.looks[0] if page.looks else None
        return (f"{page.number}", page.zone.name, what, lies, f"{look.what}, {self.month(look.first)}" if look else "–")

    def film(self, page):
        """The film of a face in words, with what it is known by."""
        um = page.face.film_um
        if um is None:
            return "film not told"
        return film_q(um) if page.face.gauging else f"about {film_q(um)}"

    def decision_row(self, row):
        """What could be done about an opening, and what the owner decided."""
        opening, options, _, decision = row
        ways = "; ".join(
            f"{each.get_option_display().lower()}{f', {each.note}' if each.note else ''}" for each in options
        )
        if decision is None:
            return opening, ways, "not decided"
        note = f": “{decision.note}”" if decision.note else ""
        return opening, ways, f"{decision.get_decided_display()}, {self.day(decision.on)}{note}"

    # A face

    def headline(self, page):
        """[(text, is bold)]: what lies on it, where to look first."""
        look = page.looks[0] if page.looks else None
        first = (
            [(" Look first: ", False), (f"{look.what.lower()}, {self.month(look.first)}", True), (".", False)]
            if look
            else []
        )
        if not page.strata:
            end = page.face.revision.get_end_state_display() if page.face.revision else "No coat is on it"
            return [(f"{end}.", True), *first]
        word = self.film(page)
        if word == "film not told":
            return [("Film not told", True), (f" over {page.over}.", False), *first]
        return [(word, True), (f" over {page.over}.", False), *first]

    def about(self, page):
        """What it is made of, and when it was worked on."""
        revision = page.face.revision
        if revision is None:
            return "Not measured."
        plan = page.face.state.facts.build_up
        school = plan.system.system.school if plan is not None and plan.system is not None else ""
        told = [
            f"{metal_of(revision)}, {revision.get_form_display().lower()}, {area_q(revision.area_m2)}",
            revision.get_finish_class_display().lower(),
            f"{self.day(page.face.began_s)} to {self.day(page.face.finished_s)}" if page.face.finished_s else "",
            f"school: {school}" if school else "",
        ]
        return " · ".join(part for part in told if part)

    def statement(self, s):
        """A finding as it was told: what, by what evidence, where it stands."""
        life = getattr(s, "life", None)
        stands = f"; {life.status}" if life is not None and life.status not in {"seen"} else ""
        return f"{s.answer.sentence} ({s.finding.get_evidence_display().lower()}, {self.day(s.finding.seen)}{stands})"

    def built_note(self, page):
        """How the picture of the layers is read, and whether they agree with the gauge."""
        note = "Film to scale, thick layers broken; solid: by gauge, dashed: by comb or litres, dotted: planned."
        known, gauge = page.known_um, page.face.gauging
        if known is not None and gauge is not None:
            note += f" Layers add to {film_q(known)}, the gauge read {film_q(page.face.film_um)}."
        return note

    def stratum(self, s):
        """(film as a figure, by what it is known) of a layer."""
        if s.left_um is None:
            return "not told", ""
        of = f"of {film_q(s.put_um)}, " if s.sanded_um and s.put_um else ""
        return film_q(s.left_um), f"{of}{known_by(s.basis, s.how)}"

    def stratum_when(self, s):
        """When a layer was put on, and of which batches."""
        return self.day(s.first_s), ", ".join(s.batches) or "batch not told"

    def gauged(self, page):
        """What the gauge says, by the standard of the job."""
        gauge = page.face.gauging
        said = f" {len(page.readings)} readings, {self.day(gauge.entry.ended)}: mean {film_q(page.face.film_um)}"
        return f"{said}, {gauge.accepted.word}" if gauge.accepted else said

    def coat_row(self, line):
        """A coat of the record as a row."""
        facts = dict(line.facts)
        um = line.film.dft_um if line.film else None
        film = "not told" if um is None else f"{film_q(um)}, {known_by(line.film.basis.value, line.film.how)}"
        return (
            self.day_year(line.entry.ended),
            line.title,
            film,
            facts.get("batch", "–"),
            facts.get("air", "not logged"),
        )

    def accepted_row(self, row):
        """A verdict that was taken on, and why."""
        sentence, reason, who, recorded, title = row
        return f"{title}: {sentence}", f"“{reason}” ({who}, {self.day(recorded)})"

    def away(self, line):
        """An absence: out or back, with its condition."""
        facts = "; ".join(f"{name}: {value}" for name, value in line.facts)
        return f"{self.day(line.entry.ended)}: {line.title}. {facts}".strip()

    def left(self, row):
        """What was left or put off, why, until when."""
        what, why, due = row
        return f"{what}{f': {why}' if why else ''}{f'. Look again {self.day(due)}' if due else ''}."

    # At the end

    def look_row(self, look: Look, names):
        """A look as a row."""
        return self.month(look.first), self.every(look), look.what, look.sign, ", ".join(names)

    def every(self, look: Look):
        """How often it is looked at."""
        if look.every_months % 12:
            return f"each {look.every_months} months"
        years = look.every_months // 12
        return "each year" if years == 1 else f"each {years} years"

    def from_when(self, may: May):
        """From when something may be done."""
        return "never" if may.never else "ask: not told" if may.from_s is None else self.day(may.from_s)

    def may_row(self, may: May):
        """What may be done with a finish, as a row."""
        return self.from_when(may), may.what, may.how, may.why

    def mix(self, plan: PotPlan):
        """A little of a mix in words."""
        system = self.workshop.units
        digits = 1 if system == "metric" else 2
        kinds = [(t, "volume" if t.mass_g is None else "mass") for t in plan.targets]
        return ", ".join(f"{t.part.name} {show(t.amount, kind, system, digits)}" for t, kind in kinds)

    def touch_row(self, row):
        """A layer that a chip is touched up with."""
        little = self.mix(row.mix) if row.mix else row.untold or "ready to use"
        return row.name, ", ".join(row.batches) or "not told", self("; ".join(row.kept)) or "nothing put by", little

    def touch_caution(self, rows):
        """What is said of the hazards of touching up."""
        said = (
            "Rub the edge of the chip thin, wipe it, dab each layer with a brush and let it dry by its sheet; "
            "rust is taken to bright metal first."
        )
        if any(ISOCYANATE in row.hazards for row in rows):
            said += (
                " Two-pack with isocyanate: a brush and gloves outdoors at most; whoever sprays or sands it fresh "
                "wears supplied air. Better leave it to the workshop."
            )
        return f"{said} The data sheet comes first."

    def colour(self, group, colour):
        """A colour of the job, with where what is left lies."""
        told = [
            colour.name,
            colour.formula,
            colour.variant,
            f"batch {colour.batch}" if colour.batch else "",
            f"kept: {colour.kept}" if colour.kept else "",
        ]
        return f"{group}: {', '.join(part for part in told if part)}."

    def quiet(self, row):
        """A rule that was quiet, and why."""
        return f"{row.rule.replace('-', ' ')}: “{row.reason}” ({row.who}, {self.day(row.recorded)})"

    def part_row(self, part, said):
        """A part that was taken off."""
        words = list(part.words.all())
        became = (
            "; ".join(f"{w.get_said_display().lower()}{f', {w.note}' if w.note else ''}" for w in words) or "still off"
        )
        fixings = "; ".join(x for x in (part.fixings, *(f"{at} {length_q(size)}" for at, size in part.shims)) if x)
        return part.item, fixings or "–", part.kept_at or "–", became

    def hours(self, money):
        """Rows of the hours by kind of work."""
        rows = [(work.name, f"{work.done_h:.1f} h") for work in money.work if work.done_h]
        return [*rows, ("All", f"{money.done_h:.1f} h")]

    def cost(self, money):
        """What it came to."""
        c = self.workshop.currency
        said = (
            f"Hours at {money.rate:g} {c}: {money.done_h * money.rate:.0f} {c}; paint {money.used:.0f} {c}; "
            f"paid to others {money.paid_sum:.0f} {c}. Together {money.so_far:.0f} {c}."
        )
        return f"{said} No price is told of {', '.join(money.unpriced)}." if money.unpriced else said
