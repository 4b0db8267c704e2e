"""What is judged: an act, and the face that it meets, with the grounds that it lands on.

An act is to be done now, was done, or is planned; its face is what is there at that moment. A ground is a patch of the
face, or of a spot on it, with one history: what lies there decides what may go over it.
"""

from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass, field
from datetime import date
from enum import StrEnum
from functools import cached_property

from ..metal.harm import held_by, untold
from ..metal.strip import WAYS
from ..product.film import Film
from ..product.kinds import ProductKind
from ..product.sheet import Sheet
from ..surface.fit import Fit
from ..surface.fold import Surface
from ..surface.masks import Open
from ..surface.names import StepKind
from ..surface.patches import Layer, Patch
from ..surface.steps import STEPS

COATS = frozenset(kind for kind, step in STEPS.items() if step.leaves_film) - {StepKind.SOLDER}
"""Steps that put a coat on."""
SANDS = frozenset({StepKind.ABRADE, StepKind.BLOCK})
"""Steps that sand what lies there."""
CAVITIES = frozenset({"box", "tank"})
"""Parts that are hollow: waxed by a lance, seen by a mirror."""
LAPSING = frozenset({StepKind.DEGREASE})
"""Preparations that lapse, and are judged together with the layer that they are for."""
MENDS: dict[str, frozenset[str]] = {
    StepKind.UNCOVER: frozenset({"uncovered", "salts", "hides"}),
    StepKind.CLEAN: frozenset({"salts", "wax", "dust"}),
    StepKind.DEGREASE: frozenset({"wax", "dust"}),
    StepKind.STRIP: frozenset({"layer", "filler", "blisters", "rust", "white"}),
    StepKind.REPAIR: frozenset({"holes", "filler", "more", "pits", "thin", "drain", "seams", "laminate", "joints"}),
    StepKind.WELD: frozenset({"holes", "more", "pits", "thin"}),
    StepKind.SOLDER: frozenset({"solder"}),
    StepKind.SEAM_SEAL: frozenset({"seams", "hides"}),
    StepKind.CONVERT: frozenset({"rust"}),
    StepKind.ABRADE: frozenset({"film"}),
    StepKind.BLOCK: frozenset({"film"}),
}
"""Kind of step -> topics of findings that it answers once it is done. Common practice, no source."""
LEAST_SHARE = 0.001
"""A share of a face below which nothing is said of it."""


class Tense(StrEnum):
    """Whether an act is to be done now, was done, or is planned."""

    NOW = "now"
    WAS = "was"
    PLAN = "plan"


@dataclass(frozen=True)
class PotTimes:
    """A pot's clock [epoch s]: usable from the end of induction to the end of its life."""

    usable_s: float | None
    dead_s: float | None


@dataclass(frozen=True)
class TinFact:
    """A tin or can that was used: its name and batch, its last day, the day of the coat, its kit and why it was
    recalled ("" for none).
    """

    name: str
    use_by: date | None
    on: date
    kit: str = ""
    recalled: str = ""


@dataclass(frozen=True)
class PartFact:
    """A part of a pot that is to be mixed, as the store has it: how much is wanted, lacking and kept for something to
    come, in words ("" for none); batches it would be poured from; the batch of it that gives the colour there.
    """

    name: str
    wanted: str
    lacks: str = ""
    kept: str = ""
    batches: tuple[str, ...] = ()
    there: str = ""


@dataclass(frozen=True)
class Act:
    """Something that is done to a face. Times in epoch s, None in a plan, where clocks are silent.

    coat: which coat of its step it is; share: of the face [0..1]; way: of stripping; grit: that it keys with; film: of
    the coat, planned or told; sanded_um: what blocking takes of its layer later [µm]; layer_um: all coats of its step
    [µm]; over_um: all film that is to lie over what it lands on, up to the next that is sanded flat [µm]; wet_um: mean
    wet film read [µm]; solids_pct, thinner_pct [%] (films and solids None: not told); reducer: "" for the sheet's own,
    "other", "alcohol"; mixed: from a pot (None: no pot was asked for yet); parts: of a pot to be mixed for it; fit:
    what the air says of it, or of the coat that a lapsing preparation is for; before, after: kinds of the steps of its
    plan, if it is in one (in_plan); later: ids of the layers after it; metal_c: how hot the metal is made [°C].
    """

    kind: str
    tense: Tense = Tense.NOW
    subject: str = ""
    step: str = ""
    product: str = ""
    sheet: Sheet | None = None
    coat: int = 1
    share: float = 1.0
    way: str = ""
    grit: str = ""
    method: str = ""
    film: Film | None = None
    sanded_um: float = 0.0
    layer_um: float | None = None
    over_um: float | None = None
    wet_um: float | None = None
    solids_pct: float | None = None
    thinner_pct: float = 0.0
    reducer: str = ""
    mixed: bool | None = None
    pot: PotTimes | None = None
    tins: tuple[TinFact, ...] = ()
    parts: tuple[PartFact, ...] = ()
    began_s: float | None = None
    ended_s: float | None = None
    fit: Fit | None = None
    leads_to: "Act | None" = None
    before: tuple[str, ...] = ()
    after: tuple[str, ...] = ()
    later: tuple[str, ...] = ()
    in_plan: bool = False
    metal_c: float | None = None

    @property
    def product_kind(self) -> str:
        """What kind of product it puts on, "" without a sheet or a product."""
        return self.sheet.kind if self.sheet else ""

    @property
    def is_coat(self) -> bool:
        """True if it leaves a coat."""
        return self.kind in COATS


@dataclass(frozen=True)
class FindingFact:
    """Something stated of a face that is trouble: (topic, mark), the choice made, its figures, where it stands.

    step: id of the step that is to answer it; said_s: when it was told [epoch s]; waits: for what it waits (see
    findings.Life); cause: that was named, a key of findings.CAUSES.
    """

    topic: str
    mark: str
    choice: str
    values: Mapping[str, float] = field(default_factory=dict)
    sentence: str = ""
    text: str = ""
    status: str = "open"
    step: str = ""
    said_s: float = 0.0
    waits: str = ""
    cause: str = ""

    @property
    def key(self) -> str:
        """Which finding it is."""
        return f"{self.topic}-{self.mark}" if self.mark else self.topic


@dataclass(frozen=True)
class SpotFact:
    """A spot of a face: its name, its share of the area, what lies on it."""

    name: str
    share: float
    surface: Surface


@dataclass(frozen=True)
class Beside:
    """A neighbour: a face of the same panel, of one act of access, or that touches it on the map; near: not only in the
    same place. waxed: wax lies or smears on it; tacky_s: until when its film takes up dust [epoch s], None if it does
    not; open: what overspray would spoil on it, None for nothing; masked: it is covered, with what (masks.COVERS);
    next: (kind, product) of its next layer; inside: it is seen only when open.
    """

    name: str
    waxed: bool = False
    tacky_s: float | None = None
    near: bool = True
    open: Open | None = None
    masked: str = ""
    next: tuple[str, str] = ("", "")
    inside: bool = False


@dataclass(frozen=True)
class ColourFact:
    """The number of mid-coats that was chosen for its colour group, None while none is; on: {face of the group: those
    that lie on it}; undertone: the product that is to lie under its translucent films, "" while none is told.
    """

    chosen: int | None = None
    on: Mapping[str, int] = field(default_factory=dict)
    undertone: str = ""


@dataclass(frozen=True)
class Face:
    """What an act meets at a moment [epoch s].

    told: {(topic, mark): statement} that holds, trouble or not; findings: those that are trouble and not answered;
    stripped: bared whole once, so that old layers are gone; strip_due: a planned strip is still to be done; most_um:
    the most that its system allows [µm]; unseen: share that nobody saw; mids: gives {face: its mid-coats in its plan}
    of its colour group, itself among them; colour: gives what was chosen for the group; masked: a mask of its plan is
    on; access: {id of a step: kinds of the acts of access that come before it and are not done}; pending: gives their
    names; beside: gives its neighbours; air_line:
    whether that was found dry and clean today, None where nobody looked. By its air, None in a plan: clocks gives a
    surface its clocks toward the act; dewed tells whether dew lay on it between two moments [epoch s]; blushed by which
    basis an epoxy met cold or damp before it was hard, "" if it did not; nights how many it spent outdoors between two
    moments [epoch s]. stripes: {id of a stripe coat: the share of the face that its edges are}.
    """

    t_s: float
    name: str = "zone"
    substrate: str = "steel"
    thickness_mm: float = 1.0
    part: str = "skin"
    form: str = "flat"
    finish: str = "show"
    end_state: str = "coated"
    surface: Surface = field(default_factory=lambda: Surface(0.0))
    spots: tuple[SpotFact, ...] = ()
    told: Mapping[tuple[str, str], FindingFact] = field(default_factory=dict)
    findings: tuple[FindingFact, ...] = ()
    stripped: bool = False
    strip_due: bool = False
    most_um: float | None = None
    unseen: float = 0.0
    outdoors: bool = False
    has_air: bool = True
    clocks: Callable[[Surface], Surface] | None = None
    dewed: Callable[[float, float], bool] | None = None
    mids: Callable[[], Mapping[str, int]] | None = None
    colour: Callable[[], ColourFact] | None = None
    masked: bool = False
    access: Mapping[str, tuple[str, ...]] = field(default_factory=dict)
    pending: Callable[[str], tuple[str, ...]] | None = None
    beside: Callable[[], tuple[Beside, ...]] | None = None
    blushed: Callable[[Layer], str] | None = None
    nights: Callable[[float, float], int] | None = None
    air_line: Callable[[], bool | None] | None = None
    stripes: Mapping[str, float] = field(default_factory=dict)

    def choice(self, topic: str, mark: str = "") -> str:
        """The choice made of a topic, "" if none was."""
        found = self.told.get((topic, mark))
        return found.choice if found else ""

    @property
    def duty(self) -> str:
        """Load, brake or pressure, "" for none or not told."""
        return {"no": ""}.get(self.choice("duty"), self.choice("duty"))

    @property
    def seen(self) -> bool:
        """True if its finish is looked at."""
        return self.finish in {"show", "open"}

    @cached_property
    def old_layers(self) -> tuple[str, ...]:
        """What the survey says of old layers, the outermost first."""
        rows = sorted((mark, found.choice) for (topic, mark), found in self.told.items() if topic == "layer")
        return () if self.stripped else tuple(choice for _, choice in rows if choice != "none")

    @property
    def harm(self) -> dict[str, bool]:
        """{what its old layers hold or may hold that harms: whether it is known}."""
        return held_by(self.old_layers, self.choice("toxic"))

    @property
    def uncaused(self) -> tuple[FindingFact, ...]:
        """What was put right, but of which no cause is named, or none that was mended."""
        return tuple(f for f in self.told.values() if f.waits == "cause")

    @property
    def as_found(self) -> bool:
        """True where some of it lies as it was found: neither bared nor coated by us."""
        return any(not p.layers and p.bare_s is None for p in self.surface.patches)

    @property
    def layers_told(self) -> bool:
        """True if somebody told what old layers it has, or that it has none."""
        return any(topic == "layer" for topic, _ in self.told)

    def where_it_lands(self, act: Act) -> Surface:
        """The patches on which an act lands, as a surface with its clocks."""
        landed = self.surface.under(act.step, act.product, act.share) if act.is_coat else self.surface
        return self.clocks(landed) if self.clocks else landed


def may_be_painted(face: Face) -> bool:
    """True where nobody has told of old layers, and some of it is as it was found."""
    return face.as_found and not face.layers_told and not face.stripped and face.substrate != "laminate"


def suspected(face: Face) -> str:
    """What such paint may hold by the tests that were made of it; "" for none, or where a laboratory cleared it."""
    return untold(face.choice("toxic")) if may_be_painted(face) else ""


RUSTY = frozenset("BCD")
LEAVES_RUST = frozenset({"wire-brush", "scrape", "walnut", "plastic", "chemical", "heat"})
"""Ways that take paint off and leave tight rust. Common practice, no source."""
SMOOTH = frozenset(key for key, way in WAYS.items() if not way.keys)
"""Ways that leave metal with no key of its own. Common practice, no source."""
BLASTED = frozenset({"garnet", "slag"})
"""Ways that leave a profile. Common practice, no source."""
METALS = {
    "steel": "bare steel",
    "cast iron": "cast iron",
    "aluminium": "aluminium",
    "zinc": "galvanised steel",
    "stainless": "stainless steel",
    "laminate": "laminate",
}
"""Substrate -> what is said to lie there where it is bare."""
OLD = {
    "powder": "powder",
    "factory": "old film",
    "two-pack": "old film",
    "crazed": "crazed film",
    "bleeding": "old film",
    "temporary": "temporary primer",
    "compound": "bitumen",
    "unknown": "unknown film",
    "oil": "alkyd enamel",
    "red-lead": "alkyd enamel",
    "lacquer": "lacquer",
    "bitumen": "bitumen",
    "chromate": "unknown film",
    "antifouling": "unknown film",
}
"""What the survey calls an old layer -> what is said to lie there."""
KINDS: dict[str, str] = {
    ProductKind.WASH_PRIMER: "wash primer",
    ProductKind.EPOXY_PRIMER: "epoxy",
    ProductKind.EPOXY_MASTIC: "epoxy mastic",
    ProductKind.CONVERTER: "converted rust",
    ProductKind.CONVERTING_PRIMER: "converting primer",
    ProductKind.ENCAPSULATOR: "encapsulator",
    ProductKind.ZINC_RICH_PRIMER: "zinc-rich primer",
    ProductKind.WELD_THROUGH_PRIMER: "weld-through primer",
    ProductKind.BODY_FILLER: "filler",
    ProductKind.FIBRE_FILLER: "filler",
    ProductKind.FINE_FILLER: "filler",
    ProductKind.SPRAYABLE_FILLER: "sprayable filler",
    ProductKind.BODY_SOLDER: "body solder",
    ProductKind.TWO_PACK_SURFACER: "surfacer",
    ProductKind.ONE_K_PRIMER: "one-pack primer",
    ProductKind.ENAMEL: "alkyd enamel",
    ProductKind.SEALER: "sealer",
    ProductKind.SEAM_SEALER: "seam sealer",
    ProductKind.CHIP_COAT: "texture",
    ProductKind.UNDERBODY_COAT: "texture",
    ProductKind.TEXTURED_COATING: "texture",
    ProductKind.BASE_COAT: "base coat",
    ProductKind.MID_COAT: "base coat",
    ProductKind.SINGLE_STAGE: "single-stage colour",
    ProductKind.CLEAR_COAT: "clear coat",
    ProductKind.FLAKE_URETHANE: "flake urethane",
    ProductKind.POWDER: "powder",
    ProductKind.CAVITY_WAX: "wax",
    ProductKind.GUIDE_COAT: "guide coat",
}
"""Kind of a layer of ours -> what is said to lie there."""


@dataclass(frozen=True)
class Ground:
    """What an act meets on a share of the face: a patch of it, or of a spot, with what lies there."""

    what: str
    share: float
    patch: Patch
    spot: str = ""
    rust_known: bool = True

    @property
    def bare(self) -> bool:
        """True where nothing lies on the metal."""
        return not self.patch.layers and self.patch.bare_s is not None

    @property
    def key(self) -> str:
        """Which ground it is, among those of a face."""
        return f"{self.spot}:{self.what}" if self.spot else self.what

    @property
    def has_profile(self) -> bool:
        """True where its metal was blasted to a profile."""
        return self.patch.bared_by in BLASTED


def grounds(act: Act, face: Face) -> Iterator[Ground]:
    """Each ground that an act meets, the largest share of a kind first; those of a kind and a state count as one."""
    landed = face.where_it_lands(act)
    whole = sum(p.share for p in landed.patches) or 1.0
    found = [_ground(face, p, p.share / whole, "") for p in landed.patches]
    if act.is_coat or act.kind == StepKind.ACID_PREP:
        for spot in face.spots:
            found += [_ground(face, p, p.share * spot.share, spot.name) for p in spot.surface.patches]
    like: dict[tuple, list[Ground]] = {}
    for each in (ground for ground in found if ground.share > LEAST_SHARE):
        like.setdefault((each.what, each.spot, *_state(each.patch)), []).append(each)
    yield from _joined(like.values())


def _joined(like: Iterable[list[Ground]]) -> Iterator[Ground]:
    """Like grounds as one, the largest first."""
    for parts in sorted(like, key=lambda parts: -sum(p.share for p in parts)):
        first = parts[0]
        yield Ground(first.what, min(1.0, sum(p.share for p in parts)), first.patch, first.spot, first.rust_known)


def _state(patch: Patch) -> tuple[object, ...]:
    """What sets grounds of one kind apart."""
    acid = (patch.acid.product, patch.acid.stood_s, patch.acid.wet) if patch.acid else None
    return patch.keyed_s is None, patch.grit, patch.bared_by, patch.treatment is None, patch.lost is None, acid


def _ground(face: Face, patch: Patch, share: float, spot: str) -> Ground:
    if patch.layers:
        top = patch.layers[-1]
        if top.sheet is None:
            return Ground("temporary primer" if top.temporary else "unknown film", share, patch, spot)
        return Ground(KINDS.get(top.sheet.kind, top.sheet.kind), share, patch, spot)
    if patch.bare_s is None and not spot:
        return Ground(_as_found(face), share, patch, spot)
    metal, known = _metal(face, patch)
    return Ground(metal, share, patch, spot, known)


def _as_found(face: Face) -> str:
    """What lies where nobody has bared anything."""
    if face.old_layers:
        return OLD.get(face.old_layers[0], "unknown film")
    if face.choice("layer", "1") == "none" and not face.stripped:
        return _metal(face, Patch())[0]
    if face.substrate == "old film":
        return "old film"
    if face.stripped:
        return METALS.get(face.substrate, face.substrate)
    return "as found"


def _metal(face: Face, patch: Patch) -> tuple[str, bool]:
    """(what lies where it is bare, whether the rust on it is known)."""
    metal = METALS.get(face.substrate, "bare steel")
    if face.substrate not in {"steel", "cast iron"}:
        return metal, True
    rust = face.choice("rust")
    bright = (patch.keyed_s is not None and not patch.by_hand) or (patch.bared_by and patch.bared_by not in LEAVES_RUST)
    if bright:
        return metal, True
    if rust == "A":
        return "mill scale", True
    return ("tight rust" if rust in RUSTY else metal), bool(rust)
