"""Is this tin enough? The film and coats that what is there gives over faces, and where to stop.

By the same identities as what a coat takes (product/film.py), turned round.
"""

from collections.abc import Sequence
from dataclasses import dataclass

from ..product.film import FORMS, METHODS, PROFILE_DEAD_UM, wft_um
from ..product.sheet import Sheet, Variant
from ..words import area_q, film_q, volume_q
from ..working import Basis, Given, Line, Unknown, Working
from .amounts import FaceAsked


@dataclass(frozen=True)
class Enough:
    """What so much paint gives over some faces.

    dft_um: dry film of a single coat over all of them [µm]; coats: whole coats of the planned film that it gives;
    each_um, wet_um: film dry and wet of a coat when it is put on in so many [µm]; word: enough, thin, short or sags;
    sentence: the answer; stop_m2: area after which to stop so that the planned film holds [m2], None where all are
    covered; stop_at: the face within which that is; least_um, most_um, sag_wet_um: what its sheet says of a coat [µm].
    """

    dft_um: float
    coats: int
    each_um: float
    wet_um: float
    word: str
    sentence: str
    stop_m2: float | None
    stop_at: str
    working: Working
    least_um: float | None = None
    most_um: float | None = None
    sag_wet_um: float | None = None

    @property
    def told(self) -> bool:
        """True if its sheet says anything of the film of a coat."""
        return any(um is not None for um in (self.least_um, self.most_um, self.sag_wet_um))


def stays(faces: Sequence[FaceAsked], method: str) -> float:
    """The share of paint used that stays on these faces by a method, weighted by area [0..1]."""
    way, whole = METHODS[method], sum(f.area_m2 for f in faces)
    meets = sum(f.area_m2 / (FORMS[f.form].meets if way.is_sprayed else 1.0) for f in faces)
    return way.stays * whole / meets if meets else way.stays


def is_enough(
    sheet: Sheet,
    variant: Variant | None,
    mixed_ml: float,
    faces: Sequence[FaceAsked],
    method: str,
    plan_um: float,
    plan_coats: int = 1,
    thinner_pct: float = 0.0,
    on_metal: bool = True,
) -> Enough | Unknown:
    """What so much mixed paint [mL] gives over faces in their order.

    plan_um: dry film of a coat as it is wanted [µm], plan_coats of them; thinner_pct [% of the mixed parts]; on_metal:
    the first coat fills their profile. Unknown names what the sheet lacks. Raises ValueError for figures out of range.
    """
    solids = sheet.solids_pct(variant)
    if isinstance(solids, Unknown):
        return solids
    if mixed_ml <= 0 or plan_um <= 0 or plan_coats < 1 or not faces:
        raise ValueError("wanted are paint, a film, a coat and a face, each above nothing")
    area, share, vs = sum(f.area_m2 for f in faces), stays(faces, method), solids.value
    dead_um = sum(f.area_m2 * PROFILE_DEAD_UM[f.profile] for f in faces) / area if on_metal else 0.0
    loss_ml = METHODS[method].loss_ml
    one = _film(mixed_ml - loss_ml, vs, share, area, dead_um)
    coats = _coats(mixed_ml, plan_um, loss_ml, vs, share, area, dead_um)
    tried = max(1, min(coats, plan_coats))
    each = _film(mixed_ml - tried * loss_ml, vs, share, area, dead_um) / tried
    wet = wft_um(each, vs, thinner_pct) if each > 0 else 0.0
    met = _Met(sheet, mixed_ml, plan_um, plan_coats, coats, each, wet, area)
    stop, at = _stop(mixed_ml, faces, method, plan_um * plan_coats, loss_ml * plan_coats, vs, on_metal)
    sums = (mixed_ml, loss_ml, tried, vs, share, area, dead_um, each, wet)
    film = sheet.film
    told = (film.min_um, film.max_um, film.sag_wft_um) if film else (None, None, None)
    films = (max(0.0, one), coats, max(0.0, each), wet)
    working = _working(sheet, solids.basis, *sums)
    return Enough(*films, met.word, met.sentence, stop, at, working, *told)


def _film(ml: float, vs: float, share: float, area: float, dead_um: float) -> float:
    """Dry film over the peaks [µm] of so much paint [mL] with solids [%] over an area [m2]."""
    return ml / 1000.0 * 10.0 * vs * share / area - dead_um


def _coats(ml: float, plan_um: float, loss_ml: float, vs: float, share: float, area: float, dead_um: float) -> int:
    """Whole coats of a film [µm] that so much gives [mL]: each loses what stays in the gun."""
    per_coat = area * plan_um / (10.0 * vs) / share * 1000.0 + loss_ml
    first = area * dead_um / (10.0 * vs) / share * 1000.0
    return max(0, int((ml - first) / per_coat + 1e-9))


def _stop(
    ml: float, faces: Sequence[FaceAsked], method: str, film_um: float, loss_ml: float, vs: float, on_metal: bool
) -> tuple[float | None, str]:
    """(area after which to stop [m2], the face within which it is) so that the film holds [µm]; (None, "") for all."""
    left, done = ml - loss_ml, 0.0
    for face in faces:
        share = stays([face], method)
        dead = PROFILE_DEAD_UM[face.profile] if on_metal else 0.0
        per_m2 = (film_um + dead) / (10.0 * vs) / share * 1000.0
        takes = face.area_m2 * per_m2
        if takes > left + 1e-6:
            return done + max(0.0, left) / per_m2, face.name
        left, done = left - takes, done + face.area_m2
    return None, ""


@dataclass(frozen=True)
class _Met:
    sheet: Sheet
    ml: float
    plan_um: float
    plan_coats: int
    coats: int
    each: float
    wet: float
    area: float

    @property
    def word(self) -> str:
        film = self.sheet.film
        if self.coats >= self.plan_coats:
            sags = film and film.sag_wft_um is not None and self.wet > film.sag_wft_um
            over = film and film.max_um is not None and self.each > film.max_um
            return "more" if sags or over else "enough"
        least = film.min_um if film and film.min_um is not None else self.plan_um
        return "thin" if self.each >= least and self.plan_coats == 1 else "short"

    @property
    def sentence(self) -> str:
        tin, over = volume_q(self.ml), area_q(self.area)
        wanted = f"{self.plan_coats} × {film_q(self.plan_um)}"
        if self.word == "enough":
            return f"Yes: {tin} give {wanted} over {over}."
        if self.word == "more":
            return (
                f"More than enough: {tin} over {over} for {wanted}. Keep what is left; put on in one go it would sag."
            )
        if self.word == "thin":
            film = f"{film_q(self.each)}, at least what its sheet asks, not {film_q(self.plan_um)}"
            return f"Just: {tin} over {over} give one coat of {film}."
        got = f"{self.coats} coat{'s' if self.coats != 1 else ''} of {film_q(self.plan_um)}"
        gives = got if self.coats else f"one coat of {film_q(max(0.0, self.each))}, too thin"
        return f"No: {tin} over {over} give {gives}, not {wanted}."


def _working(
    sheet: Sheet,
    basis: Basis,
    ml: float,
    loss_ml: float,
    coats: int,
    vs: float,
    share: float,
    area: float,
    dead_um: float,
    each: float,
    wet: float,
) -> Working:
    given = (
        Given("paint, mixed", round(ml), "mL", Basis.TYPED, "as told"),
        Given("left in gun or brush", loss_ml, "mL", Basis.ASSUMED, f"for each of {coats}: common practice, no source"),
        Given("solids of the mix", round(vs, 2), "%", basis, "volume-weighted"),
        Given(
            "stays on the work", round(share, 3), "", Basis.ASSUMED, "by method and form: common practice, no source"
        ),
        Given("area", round(area, 3), "m²", Basis.TYPED, "measured shapes"),
        Given("profile to fill", round(dead_um, 1), "µm", Basis.ASSUMED, "common practice, no source"),
    )
    how = f"{ml - coats * loss_ml:.0f} / 1000 × 10 × {vs:.1f} × {share:.3f} / {area:.2f} − {dead_um:.1f}"
    lines = (
        Line("film in all", how, round(each * coats, 1), "µm"),
        Line("a coat", f"{each * coats:.1f} / {coats}", round(each, 1), "µm"),
        Line("wet", f"{each:.1f} × 100 / {vs:.1f}, and thinner", round(wet), "µm"),
    )
    return Working(f"What {sheet.product} gives", given, lines, "identity: m²/L = 10·VS/DFT")
