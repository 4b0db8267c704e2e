"""A ground that an act lands on as rules see it, and what the sheets of a pair say."""

from ..metal.strip import UNGRADED
from ..product.abrasives import ANY_TOOTH, GRAIN_UM, TOOTH, UNDER, grain_um
from ..product.kinds import ProductKind
from ..product.sheet import Sheet
from ..surface.clocks import DEGREASED_S
from ..surface.fit import EPOXIES
from ..surface.names import Runs, Status
from .face import SMOOTH, Act, Ground
from .facts import Notes, View, graded, reads
from .seen_face import SHARE_STEP, SeenFace

LIGHT_FINEST = "P240"
"""P150 to P240 is right on what has no St or Sa grade. Common practice, no source."""
RUST_TAKERS = frozenset({ProductKind.CONVERTER, ProductKind.CONVERTING_PRIMER})
"""Kinds that work on rust: no key and no wipe is asked under them. Common practice, no source."""
NO_WIPE = RUST_TAKERS | {ProductKind.CAVITY_WAX, ProductKind.POWDER, ProductKind.GUIDE_COAT}
"""Kinds under which no wipe is asked. Common practice, no source."""


class SeenGround(View):
    """A ground that the act lands on."""

    of = "ground."

    def __init__(self, notes: Notes, act: Act, face: SeenFace, ground: Ground) -> None:
        super().__init__(notes)
        self.act, self.face, self.raw = act, face, ground

    @property
    def patch(self):  # type: ignore[no-untyped-def]
        """The patch it is."""
        return self.raw.patch

    @reads
    def what(self) -> str:
        """What lies there."""
        return self.raw.what

    @reads
    def is_spot(self) -> bool:
        """Whether it is a spot of the face."""
        return bool(self.raw.spot)

    @graded(+1, SHARE_STEP)
    def share(self) -> float:
        """Its share of where the act lands."""
        return self.raw.share

    @property
    def where(self) -> str:
        """It in words, with its share where it is not the whole."""
        name = f"{self.raw.what} of {self.raw.spot}" if self.raw.spot else self.raw.what
        share = self.share  # read, so that an acceptance knows how much of it was accepted
        return (
            name if share > 1 - SHARE_STEP / 5 else f"{name} ({share:.0%})" if share >= 0.01 else f"{name} (under 1%)"
        )

    @reads
    def out_of_turn(self) -> str:
        """What lies on it that the act's plan has after the act, "" for nothing."""
        over = (layer.product for layer in self.patch.layers if layer.step in self.act.later)
        return "" if self.raw.spot else next(over, "")

    @reads
    def bare(self) -> bool:
        """Whether nothing lies on its metal."""
        return self.raw.bare

    @reads
    def rust_known(self) -> bool:
        """Whether it is known what rust is left on it."""
        return self.raw.rust_known

    @reads
    def bared_by(self) -> str:
        """How it was bared, "" if nobody told."""
        return self.patch.bared_by

    @reads
    def smooth(self) -> str:
        """The way that left it smooth, "" if it was keyed since or has a key."""
        by = self.patch.bared_by
        return by if self.raw.bare and by in SMOOTH and not self.keyed else ""

    @reads
    def keyed(self) -> bool:
        """Whether it was keyed."""
        return self.patch.keyed_s is not None

    @reads
    def by_hand(self) -> bool:
        """Whether its metal was last abraded by hand."""
        return self.patch.by_hand

    @reads
    def blasted(self) -> bool:
        """Whether it was blasted to a profile and nothing has taken it off."""
        return self.raw.has_profile

    @reads
    def grit(self) -> str:
        """The grit that it was keyed with, "" if none is told; metal that was stripped by sanding, that grit."""
        by = {"sander": "P80", "disc-36": "P36"}.get(self.patch.bared_by, "") if self.raw.bare else ""
        grit = (self.patch.grit or by).strip().upper()
        return grit if grit in GRAIN_UM else ""

    @reads
    def prepped(self) -> bool:
        """Whether acid was rinsed off it."""
        return self.patch.prepped

    @reads
    def acid_dried(self) -> str:
        """The acid that dried on it before it was rinsed, "" if none did."""
        return self.patch.acid.product if self.patch.acid and not self.patch.acid.wet else ""

    @reads
    def blush(self) -> str:
        """By which basis the epoxy that lies there blushed and was not washed since, "" where it did not."""
        top = self.patch.layers[-1] if self.patch.layers else None
        if top is None or top.sheet is None or top.sheet.kind not in EPOXIES or self.face.raw.blushed is None:
            return ""
        washed = [t for t in (self.patch.rinsed_s, self.patch.keyed_s) if t is not None]
        return "" if washed else self.face.raw.blushed(top)

    @reads
    def got_wet(self) -> str:
        """What wetted the film that lies there: "told", "rinsed", "dew", or nothing."""
        if not self.patch.layers:
            return ""
        since_s, raw = self.patch.layers[-1].ended_s, self.face.raw
        told = {c.kind: c.passed for c in raw.surface.checks if c.t_s >= since_s}
        if "kept-dry" in told:
            return "" if told["kept-dry"] else "told"
        if self.patch.rinsed_s is not None:
            return "rinsed"
        return "dew" if raw.dewed and raw.outdoors and raw.dewed(since_s, raw.t_s) else ""

    @graded(+1, 0.5)
    def nights(self) -> int:
        """Nights that the film which lies there spent outdoors."""
        if not self.patch.layers or self.face.raw.nights is None:
            return 0
        return self.face.raw.nights(self.patch.layers[-1].ended_s, self.face.raw.t_s)

    @reads
    def vapour(self) -> str:
        """The chlorinated cleaner that it was wiped with last, "" for none."""
        return self.patch.vapour

    @graded(+1, 2.0)
    def acid_short_min(self) -> float:
        """How much too short acid stood on it [min]."""
        short = self.patch.acid.short_min if self.patch.acid else None
        return short[1] - short[0] if short else 0.0

    @reads
    def lost_by(self) -> str:
        """What took its film."""
        return str(self.patch.lost[0]) if self.patch.lost else ""

    @property
    def top_sheet(self) -> Sheet | None:
        """The sheet of what lies there."""
        return self.patch.layers[-1].sheet if self.patch.layers else None

    @reads
    def top(self) -> str:
        """What product lies there."""
        return self.patch.layers[-1].product if self.patch.layers else ""

    @reads
    def told_clean(self) -> str:
        """What a sheet says of this pair: "clean", "not", or nothing."""
        return sheet_says(self.act, self.raw)

    @reads
    def cured(self) -> bool:
        """Whether what lies there is cured or keyed, or its clock is silent."""
        if self.keyed or not self.patch.layers:
            return True
        clock = self.face.landed.clock(Runs.CURE)
        return clock is None or clock.status != Status.WAITING

    @reads
    def open_film(self) -> bool:
        """Whether what lies there is still open to solvent: not keyed, and not cured as far as its clock says."""
        if self.keyed or not self.patch.layers:
            return False
        clock = self.face.landed.clock(Runs.CURE)
        return clock is None or clock.status == Status.WAITING

    @reads
    def bleeds(self) -> bool:
        """Whether a colour lies there that bleeds, with nothing over it that isolates it."""
        for layer in reversed(self.patch.layers):
            if layer.sheet is not None and layer.sheet.bleeding:
                return True
            if layer.sheet is not None and layer.sheet.kind in EPOXIES:
                return False
        return not self.raw.bare and "bleeding" in self.face.raw.old_layers

    @reads
    def in_window(self) -> bool:
        """Whether what lies there is neither keyed nor past its window; a plan puts nothing between."""
        clock = self.face.window
        missed = clock is not None and clock.status == Status.MISSED
        return bool(self.patch.layers) and not self.keyed and not missed

    @reads
    def wipe_asked(self) -> bool:
        """Whether it wants a wipe before this: bare or keyed, never between coats in their window."""
        if (
            self.act.product_kind in NO_WIPE
            or self.patch.treatment is not None
            or (self.raw.bare and self.raw.what == "tight rust" and not self.keyed)
        ):
            return False
        return self.raw.bare or self.keyed or self.raw.what in {"old film", "powder", "unknown film"}

    @graded(+1, 60.0)
    def wiped_min(self) -> float:
        """How long ago it was wiped, or rinsed and dried [min]; 0 in a plan, -1 if it was not."""
        p = self.patch
        wiped_s = max((t for t in (p.degreased_s, p.dried_s, p.rinsed_s) if t is not None), default=None)
        if wiped_s is None:
            return -1.0
        began = self.act.began_s
        return 0.0 if began is None else max(0.0, (began - wiped_s) / 60)

    @property
    def wipe_is_stale(self) -> bool:
        """Whether its wipe is used up."""
        return self.wiped_min > DEGREASED_S / 60 + 0.5

    @property
    def wants(self) -> tuple[str, str] | None:
        """(coarsest, finest) grit that the act takes on it, None if nothing is known."""
        sheet, kind = self.act.sheet, self.act.product_kind
        if sheet is not None and sheet.grit is not None:
            return sheet.grit
        if not self.raw.bare:
            return UNDER.get(kind)
        tooth = TOOTH.get(kind, ANY_TOOTH)
        finest = tooth.finest
        if self.face.raw.substrate in UNGRADED and grain_um(LIGHT_FINEST) < grain_um(finest):
            finest = LIGHT_FINEST
        return "P36" if tooth.grit == "P36" else "P80", finest


def sheet_says(act: Act, ground: Ground) -> str:
    """What the sheets of a pair say of it: "clean", "not", or "" where they say nothing.

    The sheet of what comes: `over`, by product or kind; that of what lies there: a window for that product or kind.
    """
    return _said_by_what_comes(act, ground) or _said_by_what_lies_there(act, ground)


def _said_by_what_comes(act: Act, ground: Ground) -> str:
    if act.sheet is None:
        return ""
    under = ground.patch.layers[-1] if ground.patch.layers else None
    if under is None:
        names = [f"metal:{ground.what}"]
    else:
        names = [f"product:{under.product}", *([f"kind:{under.sheet.kind}"] if under.sheet else [])]
    said = dict(act.sheet.over)
    found = next((said[name] for name in names if name in said), None)
    return "" if found is None else "clean" if found else "not"


def _said_by_what_lies_there(act: Act, ground: Ground) -> str:
    under = ground.patch.layers[-1] if ground.patch.layers else None
    if under is None or under.sheet is None or not act.product:
        return ""
    named = {f"product:{act.product}", f"kind:{act.product_kind}"}
    named |= {"self"} if act.product == under.product else set()
    return "clean" if named & {window.next for window in under.sheet.windows} else ""
