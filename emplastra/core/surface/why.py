"""Why a step stands where it stands, as sentences: from what comes before and after it. Common practice, no source."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

from ..product.kinds import FILLERS, ProductKind
from ..product.sheet import Sheet
from .names import StepKind
from .plan import PlanStep
from .steps import STEPS

_COLOUR = frozenset({StepKind.BASE, StepKind.MID, StepKind.CLEAR, StepKind.SINGLE_STAGE})


@dataclass(frozen=True)
class At:
    """A step of a plan in its place: the kind of its product, kinds of the steps before and after it, of the layer
    under it and of the one that it prepares ("": none).
    """

    kind: str
    product: str
    before: tuple[str, ...]
    after: tuple[str, ...]
    under: str
    over: str

    @property
    def on_metal(self) -> bool:
        """True where no layer lies under it."""
        return not self.under

    @property
    def is_last(self) -> bool:
        """True where no layer comes after it."""
        return not any(STEPS[kind].leaves_film for kind in self.after)


def _always(at: At) -> bool:
    return True


_REASONS: tuple[tuple[str, Callable[[At], bool], str], ...] = (
    (StepKind.SURVEY, _always, "Nothing can be judged or priced before it is looked at."),
    (StepKind.UNCOVER, _always, "Nothing is graded under dirt; mud keeps metal wet for days."),
    (StepKind.STRIP, _always, "Whoever coats the metal answers for all that lies on it, so it comes off first."),
    (StepKind.REPAIR, _always, "Metal is mended while it is bare: heat and grinding spoil any film."),
    (StepKind.WELD, lambda at: not at.on_metal, "The weld burns a strip off both faces; what it bares is coated again."),
    (StepKind.WELD, _always, "Welded bare: heat spoils any film, and wax or sealer would burn."),
    (StepKind.CLEAN, _always, "Oil and salts go before acid and grit, or they are rubbed in."),
    (StepKind.DEGREASE, lambda at: StepKind.ABRADE in at.after and StepKind.ABRADE not in at.before and at.on_metal, "Wax comes off before the first grit, or sanding rubs it in."),
    (StepKind.DEGREASE, _always, "Sanding, hands and a night leave dust and grease: wiped right before what comes."),
    (StepKind.ABRADE, lambda at: at.on_metal, "A first coat holds in the scratch: keyed as coarse as it asks for."),
    (StepKind.ABRADE, _always, "Out of its window a film takes nothing until it is keyed."),
    (StepKind.ACID_PREP, _always, "Acid takes the rust out of the pits, where no tool reaches; it never dries on the metal."),
    (StepKind.RINSE, lambda at: StepKind.SOLDER in at.before[-1:], "Flux is acid: neutralised and rinsed, or the paint over it blisters."),
    (StepKind.RINSE, _always, "Acid or wash left under a coat lifts it, so it is rinsed while it is wet."),
    (StepKind.DRY, _always, "Wet bright steel rusts within the hour: dried at once, laps too."),
    (StepKind.CONVERT, lambda at: at.is_last, "It holds what rust is left until the next strip."),
    (StepKind.CONVERT, _always, "It needs rust to work on and time to end; what follows waits for it."),
    (StepKind.PRIME, lambda at: at.product == ProductKind.WASH_PRIMER, "It bites by acid and is too thin to be keyed, so the next coat comes in its window."),
    (StepKind.PRIME, lambda at: at.product == ProductKind.WELD_THROUGH_PRIMER, "Zinc on the faces of the lap, before it is welded; elsewhere it comes off."),
    (StepKind.PRIME, lambda at: at.product == ProductKind.ZINC_RICH_PRIMER, "Zinc protects only where it touches the metal, so it is the first of all."),
    (StepKind.PRIME, lambda at: at.on_metal, "On the day the metal is bared, before its bare time is over; then nothing has to hurry."),
    (StepKind.PRIME, lambda at: at.under in FILLERS, "One film over filler and metal, so that both draw alike."),
    (StepKind.PRIME, _always, "What work bared again is shut before it rusts."),
    (StepKind.ENCAPSULATE, _always, "It wets what rust is left and shuts it off from water and air."),
    (StepKind.POWDER, _always, "Baked hot, so it comes before anything soft."),
    (StepKind.STRIPE, _always, "Film draws back from edges and welds: brushed by themselves, before the face."),
    (StepKind.SOLDER, _always, "On bright, tinned metal; after it the flux is washed out."),
    (StepKind.SEAM_SEAL, _always, "Over primer, where it holds, and before what would hide an open seam."),
    (StepKind.FILL, lambda at: at.on_metal, "On keyed metal, where it has its best tooth; epoxy follows over all."),
    (StepKind.FILL, _always, "Over the keyed primer, so that a scratch through the filler meets no bare metal."),
    (StepKind.GUIDE_COAT, _always, "It shows what is still low and what is sanded through."),
    (StepKind.BLOCK, lambda at: at.over in FILLERS, "Levelled and scratched as coarse as the filler bites."),
    (StepKind.BLOCK, lambda at: at.over in {ProductKind.BASE_COAT, ProductKind.MID_COAT, ProductKind.SINGLE_STAGE, ProductKind.CLEAR_COAT}, "Flat now: colour is thin, and shows each scratch that it does not bury."),
    (StepKind.BLOCK, _always, "Levelled before the next film, which only copies what lies under it."),
    (StepKind.SURFACE, _always, "The film that is sanded flat; thick enough that blocking leaves its minimum."),
    (StepKind.SEAL, _always, "One shade and one suction under the colour."),
    (StepKind.INK_OFF, _always, "Marker bleeds through colour, so it is wiped off."),
    (StepKind.MASK, _always, "What stays bare or another colour is covered before anything flies."),
    (StepKind.BASE, _always, "Sprayed until it hides; it has no gloss and lies bare only for its window."),
    (StepKind.MID, _always, "It hides nothing: the ground must be even, and the number of coats is the colour."),
    (StepKind.CLEAR, lambda at: StepKind.CLEAR in at.before, "Again, on the clear that was cut flat: depth without texture."),
    (StepKind.CLEAR, _always, "Over the base in its window; it bears weather, polish and light."),
    (StepKind.SINGLE_STAGE, _always, "Colour and gloss in one, over what is sanded flat or textured."),
    (StepKind.TEXTURE, lambda at: any(kind in _COLOUR for kind in at.after), "After the seams, before the paint that keeps water out of it."),
    (StepKind.TEXTURE, _always, "After the seams, and the last coat: nothing goes over it."),
    (StepKind.WAX, _always, "The last of all: it burns at a weld, and nothing holds on it."),
    (StepKind.FORCE_DRY, _always, "Heat now takes the shrinkage out that the sun would take later."),
    (StepKind.POLISH, _always, "Once the last film is through-dry."),
    (StepKind.CONTRACTOR, _always, "Away while nothing soft is on it; looked at before and after."),
    (StepKind.TRIAL_FIT, _always, "Gaps are set dry: film closes them, and no filler goes on before panels hang."),
    (StepKind.CLOSE, _always, "Out of reach from here on: all that is to be coated inside is coated."),
    (StepKind.INSPECT, _always, "Looked at while it can still be seen."),
)  # fmt: skip
"""(kind of step, where it holds, why it stands there); the first that holds is said."""


def reasons(steps: Sequence[PlanStep], sheets: Mapping[str, Sheet]) -> dict[str, str]:
    """{id of a step: why it stands where it stands}; sheets: by product name. Steps left out have none."""
    kept = [step for step in steps if not step.left_out]
    return {step.id: _reason(_at(kept, i, sheets)) for i, step in enumerate(kept)}


def _kind_of(step: PlanStep | None, sheets: Mapping[str, Sheet]) -> str:
    """Kind of its product; of a layer without a sheet the kind of the step."""
    if step is None:
        return ""
    sheet = sheets.get(step.product)
    return sheet.kind if sheet else step.kind


def _at(steps: Sequence[PlanStep], i: int, sheets: Mapping[str, Sheet]) -> At:
    under = next((s for s in reversed(steps[:i]) if STEPS[s.kind].leaves_film), None)
    over = next((s for s in steps[i + 1 :] if STEPS[s.kind].leaves_film), None)
    step, kinds = steps[i], tuple(s.kind for s in steps)
    of = _kind_of(step, sheets)
    return At(step.kind, of, kinds[:i], kinds[i + 1 :], _kind_of(under, sheets), _kind_of(over, sheets))


def _reason(at: At) -> str:
    return next(said for kind, holds, said in _REASONS if kind == at.kind and holds(at))
