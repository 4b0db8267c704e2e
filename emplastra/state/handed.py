"""A piece as it was handed over: each face as it was built, what may be done with it when, where to look, with what a
chip is mended.
"""

from dataclasses import dataclass, replace
from datetime import date

from emplastra.core.buying.stock import Happened
from emplastra.core.care.after import may_be, together
from emplastra.core.care.watch import Built, Look, looks_of
from emplastra.core.product import mixing
from emplastra.core.product.kinds import FILLERS, ProductKind
from emplastra.core.surface import events
from emplastra.core.surface.clocks import time_clock
from emplastra.core.surface.names import Loss, Runs, StepKind
from emplastra.core.words import quantity
from emplastra.core.working import Unknown
from emplastra.jobs.colours import colours_of
from emplastra.shared.times import from_epoch
from emplastra.store.models import TinFact

from .film import gaugings
from .known import chains_of, standing
from .stack import Hatches

SMALL_ML = 10.0
"""So much is mixed to touch up a chip [mL]. Common practice, no source."""
LAPPED = frozenset({"laps", "rivets", "pack"})
FILLED = FILLERS | {ProductKind.SPRAYABLE_FILLER, ProductKind.BODY_SOLDER}


@dataclass
class Face:
    """A face as it was handed over.

    state: its ZoneState; layers: what lies on it, from the metal; gauging: the last film by gauge; finished_s: its last
    coat [epoch s], None where none was; may: what may be done with it when; looks: where to look, the first due first.
    """

    state: object
    layers: tuple
    hatches: list
    built: Built
    gauging: object
    began_s: float | None
    finished_s: float | None
    finished: date | None
    may: tuple
    looks: tuple[Look, ...]

    @property
    def zone(self):
        """The zone."""
        return self.state.zone

    @property
    def revision(self):
        """What it is made of and measures."""
        return self.state.facts.revision

    @property
    def film_um(self):
        """Film by gauge, else all that is known to lie on it [µm]; None where nothing is known of a layer."""
        if self.gauging is not None:
            return sum(r.um for r in self.gauging.readings) / len(self.gauging.readings)
        films = [layer.left_um * layer.share for layer in self.layers if layer.left_um is not None]
        return sum(films) if len(films) == len(self.layers) and films else None

    @property
    def first_look(self):
        """The look that is due first, None without one."""
        return self.looks[0] if self.looks else None


def faces_of(book, zones):
    """[Face] of these zones, in their order."""
    told = chains_of(zones)
    return [_face(book, state, told[state.zone.pk]) for state in book.states([zone.pk for zone in zones])]


def _face(book, state, told):
    each, t_s = state.facts, state.surface.t_s
    layers, gauging = state.surface.layers, _last_gauging(each)
    ended_s = max((e.ended_s for e in each.events if isinstance(e, events.Coated) and e.ended_s <= t_s), default=None)
    last_s = max((e.ended_s for e in each.events if e.ended_s <= t_s), default=None) if ended_s is None else ended_s
    finished = from_epoch(last_s).astimezone(book.facts.workshop.zone).date() if last_s is not None else None
    built = _built(state, layers, standing(each, *told), gauging)
    hatches = Hatches()
    return Face(
        state,
        layers,
        [hatches.of_layer(layer.step or f"on {n}", layer.sheet) for n, layer in enumerate(layers)],
        built,
        gauging,
        each.first_s,
        ended_s,
        finished,
        _may(state, built, ended_s),
        looks_of(built, finished) if finished else (),
    )


def _last_gauging(each):
    """The newest Gauging of new film on a zone (ZoneFacts), None without one."""
    return next((gauging for gauging in reversed(gaugings(each)) if not gauging.row.old), None)


def _built(state, layers, known, gauging):
    """The core's value of a face. known: what is told of it, by topic and mark."""
    made = replace(_measured(state.facts.revision), **_found(known), **_gauged(gauging))
    sheets = [layer.sheet for layer in layers if layer.sheet is not None]
    planned = {step.kind for step in state.facts.steps if not step.left_out}
    lost = any(isinstance(e, events.FilmLost) and e.cause == Loss.WELD for e in state.facts.events)
    return replace(
        made,
        kinds=tuple(sheet.kind for sheet in sheets),
        laps=made.laps or StepKind.SEAM_SEAL in planned,
        welded=lost or state.surface.welded_s is not None,
        filled=any(sheet.kind in FILLED for sheet in sheets),
        top_um=_top_um(layers),
    )


def _top_um(layers):
    """Film of the last product [µm], all its coats; None where it is not known."""
    films = [layer.left_um for layer in layers if layer.product == layers[-1].product]
    return sum(films) if films and None not in films else None


def _measured(revision):
    """A face by its measures, where there are any."""
    if revision is None:
        return Built("", "show")
    return Built(revision.substrate, revision.finish_class, revision.end_state, revision.part)


def _found(known):
    """What the survey found of a face: drains, laps, the deepest pit [mm]."""
    told = [(topic, each.answer) for (topic, _), each in known.items()]
    joints = {choice for topic, answer in told if topic == "joints" for choice in answer.choice.split("+")}
    return {
        "drains": sum(topic == "drain" and answer.choice != "missing" for topic, answer in told),
        "laps": bool(joints & LAPPED),
        "pits_mm": max((answer.values.get("depth", 0.0) for topic, answer in told if topic == "pits"), default=0.0),
    }


def _gauged(gauging):
    """The least film by gauge, and what is asked of it [µm]."""
    if gauging is None:
        return {}
    asked = gauging.asked.nominal_um if gauging.asked else None
    return {"thin_um": min(spot.um for spot in gauging.spots), "least_um": asked}


def _may(state, built, ended_s):
    """What may be done with a face when; nothing where no coat is on it."""
    if ended_s is None or state.facts.where is None:
        return ()
    dry = {}
    for kind in (Runs.TOUCH, Runs.HANDLE, Runs.CURE):
        clock = time_clock(state.surface, state.facts.where, kind)
        dry[kind.value] = clock.opens_s if clock else None
    if dry["handle"] is None:
        dry["handle"] = dry["cure"]
    return may_be(built.top, ended_s, dry)


def may_of(faces):
    """What may be done with the whole piece when: of each act the face that is last."""
    return together(tuple(face.may for face in faces))


@dataclass
class TouchUp:
    """How one layer of a chip is put back: product, batches that lie there, where some of it is kept, the mix in small
    (None: comes ready to use, untold: why nobody can say).
    """

    product: str
    sheet: object
    batches: tuple = ()
    kept: tuple = ()
    mix: object = None
    untold: str = ""
    film_um: float | None = None

    @property
    def name(self):
        """The product in words."""
        return self.product

    @property
    def hazards(self):
        """What its sheet warns of."""
        return self.sheet.hazards if self.sheet else ()


def touch_ups(faces, batches, job):
    """[TouchUp] of the products that lie on these faces, from the metal to the top, each once.

    batches: {product: what was told of its batches}.
    """
    found, kept = {}, _kept(job, [layer.product for face in faces for layer in face.layers])
    rows = [(n, layer) for face in faces for n, layer in enumerate(face.layers)]
    for _, layer in sorted(rows, key=lambda row: row[0]):
        if layer.product in found or layer.sheet is None or layer.sheet.kind in FILLED:
            continue
        mix, untold = _small(layer.sheet)
        told = tuple(sorted(batches.get(layer.product, ())))
        found[layer.product] = TouchUp(
            layer.product, layer.sheet, told, tuple(kept.get(layer.product, ())), mix, untold, layer.sheet.aim_um
        )
    return list(found.values())


def _small(sheet):
    """(the mix of a little [PotPlan], "") of a sheet; (None, why) where nobody can say, (None, "") where it comes
    ready.
    """
    if sheet.form != "mixed":
        return None, ""
    if not sheet.variants:
        return None, "its sheet tells no ratio"
    variant = sheet.variants[-1]
    parts = sheet.parts(variant)
    measures = mixing.measures(parts, variant.by)
    mix = mixing.ratios(parts, variant.by, measure=measures[0])
    if isinstance(mix, Unknown):
        return None, f"nobody told {mix.words}"
    return mixing.plan_pot(mix, SMALL_ML, measure=measures[0]), ""


def _kept(job, products):
    """{product: [what is kept of it, where]}: tins of which some was put by, and the colours of the job."""
    found = {}
    rows = TinFact.objects.filter(kind=Happened.KEPT.value, tin__product__name__in=set(products), voided_by=None)
    for row in rows.select_related("tin__product", "place").order_by("at", "id"):
        found.setdefault(row.tin.product.name, []).append(_put_by(row))
    for colour in colours_of([job.pk]).get(job.pk, {}).values():
        if colour.kept and colour.batch and colour.name:
            of = next((name for name in products if colour.name.lower() in name.lower()), colour.name)
            found.setdefault(of, []).append(f"{colour.name}, batch {colour.batch}: {colour.kept}")
    return found


def _put_by(row):
    """A tin of which some was put by, in words."""
    much = f"{quantity('volume' if row.unit == 'mL' else 'mass', row.amount)} of " if row.amount else ""
    return f"{much}batch {row.tin.batch}{f', {row.place}' if row.place else ''}{f': {row.note}' if row.note else ''}"
