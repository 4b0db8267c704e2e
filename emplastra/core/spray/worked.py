"""A pass opened to its working."""

from ..words import length_q
from ..working import Basis, Given, Line, Working
from .film import PassMap, Wanted
from .gun import Gun, uniform_um

_PRACTICE = "common practice, no source"


def film_worked(gun: Gun, wanted: Wanted, speed: float, pitch_mm: float) -> Working:
    """The film in the middle of a wide face, from flow, solids, what lands, speed [m/s] and row to row [mm]."""
    lands = gun.dry_mm3_s(wanted.solids)
    way = f"{gun.flow_ml_min:.0f} / 60 × {wanted.solids:.4f} × {gun.lands:.3f}"
    return Working(
        "Film of a pass",
        (
            Given("flow", round(gun.flow_ml_min), "mL/min", Basis.TYPED),
            Given("solids in the gun", round(100 * wanted.solids, 2), "%", Basis.TYPED),
            Given(
                "lands on the face",
                round(100 * gun.lands, 1),
                "%",
                Basis.ASSUMED,
                f"5 % less for {length_q(25)} more: {_PRACTICE}",
            ),
            Given("speed", round(speed, 3), "m/s", Basis.COMPUTED),
            Given("row to row", round(pitch_mm, 1), "mm", Basis.COMPUTED),
        ),
        (
            Line("lands, dry", way, round(lands / 1000, 4), "mL/s"),
            Line(
                "film",
                "what lands / (speed × row to row)",
                round(uniform_um(gun, wanted.solids, speed, pitch_mm), 2),
                "µm",
            ),
        ),
        "what lands ÷ (speed × row to row); edges, openings and the ripple of the fans by the map",
    )


def paint_worked(film: PassMap, planned_ml: float) -> Working:
    """Where the paint of a pass goes, beside what the plan takes for the same film [mL]."""
    paint = film.paint
    return Working(
        "Paint of a pass",
        (
            Given("trigger pulled", round(film.seconds, 1), "s", Basis.COMPUTED),
            Given("flow", round(film.gun.flow_ml_min), "mL/min", Basis.TYPED),
            Given(
                "the plan, for this film", round(planned_ml), "mL", Basis.COMPUTED, "its share stays on a whole face"
            ),
        ),
        (
            Line("on the face", "film × area ÷ solids", round(paint.face_ml, 1), "mL"),
            Line("on its returns", "film × area ÷ solids", round(paint.returns_ml, 1), "mL"),
            Line("past its edges and through openings", "what lands − face − returns", round(paint.past_ml, 1), "mL"),
            Line("off in the air", "1 − what lands", round(paint.air_ml, 1), "mL"),
            Line("sprayed", "seconds × flow", round(paint.sprayed_ml, 1), "mL"),
        ),
        "the plan counts what stays of a spray on a whole face; what goes past its edges belongs to the pass",
    )
