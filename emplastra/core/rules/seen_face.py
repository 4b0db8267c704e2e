"""The face of an act as rules see it: what a rule reads is noted."""

from functools import cached_property

from ..metal.known import Metal
from ..metal.strip import WAYS
from ..surface.coats import most_mids
from ..surface.fold import Clock, Surface
from ..surface.masks import COVERS, masks_on
from ..surface.names import COLOUR, Loss, Runs, Status, StepKind
from ..surface.steps import STEPS
from ..survey.inspection import FAULT
from ..words import TOLD_S
from . import strip
from .face import CAVITIES, Act, Beside, ColourFact, Face, Ground, grounds
from .facts import Notes, View, graded, reads

LATE_STEP_H = 12.0
"""Bare time past its limit that counts as the same [h]. Ours, no source."""
SHARE_STEP = 0.05
"""A share of a face that counts as the same. Ours, no source."""
CHANGES = frozenset({"hole", "crack", "dent", "weld"})
"""What is found later that changes a part under load."""


class SeenFace(View):
    """The face, and where the act lands on it."""

    of = "face."

    def __init__(self, notes: Notes, act: Act, face: Face) -> None:
        super().__init__(notes)
        self.act, self.raw = act, face

    @cached_property
    def landed(self) -> Surface:
        """Where the act lands, with its clocks."""
        return self.raw.where_it_lands(self.act)

    @cached_property
    def grounds(self) -> tuple[Ground, ...]:
        """What it meets there."""
        return tuple(grounds(self.act, self.raw))

    @reads
    def substrate(self) -> str:
        """What it is made of."""
        return self.raw.substrate

    @reads
    def part(self) -> str:
        """Its form of part."""
        return self.raw.part

    @reads
    def duty(self) -> str:
        """Load, brake, pressure, or nothing."""
        return self.raw.duty

    @reads
    def end_state(self) -> str:
        """How it is meant to end."""
        return self.raw.end_state

    @reads
    def seen(self) -> bool:
        """Whether its finish is looked at."""
        return self.raw.seen

    @reads
    def near(self) -> str:
        """What is fitted nearby."""
        return self.raw.choice("near")

    @property
    def nearby(self) -> set[str]:
        """Each thing that is fitted nearby; read as a whole."""
        return set(self.near.split("+"))

    @property
    def thickness_mm(self) -> float:
        """How thick it is [mm]; what is lost of it is read."""
        return self.raw.thickness_mm

    @graded(+1, 0.05)
    def lost_share(self) -> float:
        """Share of its thickness that pits or rust have taken, 0 where it is mended or nothing is told."""
        left = self._open("thin").get("left")
        lost = 1.0 - left / self.raw.thickness_mm if left is not None else 0.0
        return max(lost, self._open("pits").get("depth", 0.0) / self.raw.thickness_mm)

    def _open(self, topic: str) -> dict[str, float]:
        """Figures of what is trouble and not answered."""
        return next((dict(f.values) for f in self.raw.findings if f.topic == topic), {})

    @reads
    def unsound(self) -> str:
        """What is told of holes, cracks, dents and welds that are bad, where it is not mended."""
        bad = {f.choice for f in self.raw.findings if f.topic == "holes"}
        bad |= {f.choice for f in self.raw.findings if f.topic == "more" and f.choice in CHANGES}
        return " ".join(sorted(bad))

    @reads
    def changed(self) -> str:
        """What is told of it that changes a part under load, until somebody has looked again, whatever mends it."""
        told = [f for f in self.raw.told.values() if f.status != "verified"]
        bad = {f.choice for f in told if f.topic == "holes" and f.choice != "none"}
        return " ".join(sorted(bad | {f.choice for f in told if f.topic == "more" and f.choice in CHANGES}))

    @reads
    def uncaused(self) -> str:
        """What was put right without its cause: key and cause of each finding."""
        return " ".join(sorted(f"{f.key}/{f.cause}" for f in self.raw.uncaused))

    @reads
    def held(self) -> str:
        """What it held, "" if nobody told."""
        return self.raw.choice("held")

    @reads
    def below(self) -> bool:
        """Whether it is an outer face seen from below."""
        return self.raw.finish == "below"

    @reads
    def outdoors(self) -> bool:
        """Whether it stands outdoors."""
        return self.raw.outdoors

    @reads
    def show(self) -> bool:
        """Whether it is a face on show."""
        return self.raw.finish == "show"

    @reads
    def has_edges(self) -> bool:
        """Whether it is a frame, a casting or an angle, whose edges film draws back from."""
        return self.raw.form == "frame" or self.raw.part in {"casting", "channel"}

    @reads
    def welded(self) -> bool:
        """Whether it was welded."""
        return self.raw.surface.welded_s is not None

    @reads
    def seams_open(self) -> bool:
        """Whether its seams are told to be open or cracked, and nothing has mended them."""
        return any(f.topic == "seams" and f.choice in {"open", "cracked"} for f in self.raw.findings)

    @reads
    def tops(self) -> tuple[str, ...]:
        """What lies uppermost where the act lands: products, or what lies there."""
        grounds = (g for g in self.grounds if not g.spot)
        return tuple(sorted({g.patch.layers[-1].product if g.patch.layers else g.what for g in grounds}))

    @reads
    def drains_probed(self) -> bool | None:
        """What a probe of its drains said since the last coat: True open, False shut, None nobody probed."""
        return {c.kind: c.passed for c in self.raw.surface.checks}.get("drains")

    @reads
    def drains_unseen(self) -> str:
        """Marks of the drains that nobody has probed since the last coat."""
        last_s = max((layer.ended_s for layer in self.raw.surface.layers), default=None)
        if self.drains_probed:
            return ""
        drains = [f for (topic, _), f in self.raw.told.items() if topic == "drain"]
        late = [f.mark for f in drains if last_s is not None and f.said_s < last_s]
        return ", ".join(sorted(late))

    @reads
    def tested(self) -> str:
        """What tests of its old layers and parts said."""
        return self.raw.choice("toxic")

    @reads
    def inspected(self) -> bool:
        """Whether somebody has looked it through."""
        return bool(self.raw.surface.inspected)

    @reads
    def stays(self) -> str:
        """What of it is told to stay bare."""
        return self.raw.choice("stays")

    @reads
    def waxed_beside(self) -> tuple[str, ...]:
        """Neighbours on which wax lies or smears."""
        return tuple(sorted(each.name for each in self._beside if each.waxed))

    @property
    def tacky_beside(self) -> tuple[tuple[str, float], ...]:
        """(neighbour whose film takes up dust, until when [epoch s]); their names are read."""
        found = tuple((each.name, each.tacky_s) for each in self._beside if each.tacky_s is not None)
        self.note("tacky_beside", " ".join(sorted(name for name, _ in found)))
        return found

    @property
    def open_beside(self) -> tuple[tuple[str, str, bool], ...]:
        """(neighbour, what the act's overspray would spoil on it, whether for good), but for those that are covered or
        take the same coat next; names and what are read.
        """
        act = self.act
        found = tuple(
            (each.name, each.open.why, each.open.for_good)
            for each in self._beside
            if each.near and each.open is not None and not each.masked and each.next != (act.kind, act.product)
        )
        self.note("open_beside", " ".join(sorted(f"{name}: {why};" for name, why, _ in found)))
        return found

    @reads
    def inside_due(self) -> tuple[str, ...]:
        """Neighbours that are seen only when open and have colour to come."""
        return tuple(sorted(each.name for each in self._beside if each.inside and each.near and each.next[0] in COLOUR))

    @reads
    def colours_beside(self) -> tuple[tuple[str, str], ...]:
        """(neighbour, the colour that it takes next) where that is another than the act's."""
        near = (each for each in self._beside if each.near and each.next[0] in COLOUR - {StepKind.CLEAR})
        return tuple(sorted((each.name, each.next[1]) for each in near if each.next[1] != self.act.product))

    @reads
    def dusty_masks(self) -> tuple[str, ...]:
        """Faces that are masked with what drops dust: itself, and neighbours."""
        own = [self.raw.name] if any(COVERS[m.cover].dusty for m in self.raw.surface.masks) else []
        there = [each.name for each in self._beside if each.near and each.masked and COVERS[each.masked].dusty]
        return (*own, *sorted(there))

    @reads
    def covered_whole(self) -> bool:
        """Whether a mask lies over all of it."""
        return any(mask.whole for mask in self.raw.surface.masks)

    @graded(+1, LATE_STEP_H)
    def tape_late_h(self) -> float:
        """How much longer than its tape bears a mask is on [h], 0 while it is not."""
        over = [self.raw.t_s - mask.until_s for mask in masks_on(self.raw.surface)]
        return max(0.0, max(over, default=0.0) / 3600.0)

    @cached_property
    def _beside(self) -> tuple[Beside, ...]:
        return self.raw.beside() if self.raw.beside else ()

    @reads
    def pending(self) -> tuple[str, ...]:
        """What the plan of access has before the act's step, and is not done."""
        return self.raw.pending(self.act.step) if self.raw.pending else ()

    @reads
    def masked(self) -> bool:
        """Whether a mask of its plan is on."""
        return self.raw.masked

    @reads
    def melts(self) -> str:
        """What was found in it that an oven melts or burns."""
        found = {f.topic: f.choice for f in self.raw.findings}
        told = {"filler": found.get("filler"), "wax": found.get("wax"), "sealer": found.get("seams")}
        soft = {name for name, choice in told.items() if choice}
        soft |= {"solder"} if self.raw.choice("solder") in {"seam", "suspected"} else set()
        return "+".join(sorted(soft))

    @reads
    def way_stops(self) -> str:
        """What stops the act's way of stripping on it, a line each."""
        face = self.raw
        metal = Metal(
            face.name,
            face.substrate,
            face.thickness_mm,
            face.part,
            face.form,
            face.finish,
            face.end_state,
            face.told,
            face.stripped,
            boxed=face.part in CAVITIES,
        )
        return "\n".join(strip.stops(metal, self.act.way)) if self.act.way in WAYS else ""

    @reads
    def as_found(self) -> bool:
        """Whether some of it lies as it was found."""
        return self.raw.as_found

    @reads
    def holds_harm(self) -> tuple[tuple[str, bool], ...]:
        """(what its old layers hold or may hold that harms, whether it is known)."""
        return tuple(self.raw.harm.items())

    @reads
    def rust(self) -> str:
        """Its rust grade as told, "" if nobody did."""
        return self.raw.choice("rust")

    @reads
    def rust_open(self) -> bool:
        """Whether rust or blisters stand open under a film that nobody has taken off."""
        return any(f.topic in {"rust", "blisters"} for f in self.raw.findings) and not self.raw.stripped

    @reads
    def air_line(self) -> bool | None:
        """Whether the air line was found dry and clean today, None where nobody looked."""
        return self.raw.air_line() if self.raw.air_line else None

    @reads
    def trial_fit(self) -> bool:
        """Whether it hangs on a trial fit."""
        return self.raw.surface.trial_fit_s is not None

    @reads
    def closed(self) -> bool:
        """Whether it is closed up."""
        return self.raw.surface.closed_s is not None

    @graded(+1, SHARE_STEP)
    def bare_share(self) -> float:
        """Share of it that is bare."""
        return sum(share for _, share in self.landed.bare)

    @graded(+1, SHARE_STEP)
    def burnt_share(self) -> float:
        """Share of it whose film a weld took, and that nobody has coated since."""
        return sum(share for cause, share, _ in self.raw.surface.lost if cause == Loss.WELD)

    @reads
    def mids(self) -> tuple[tuple[str, int], ...]:
        """(face, its mid-coats as planned) of its colour group, itself first; none where it is in no group."""
        told = dict(self.raw.mids()) if self.raw.mids else {}
        if self.raw.name not in told or len(told) < 2:
            return ()
        return ((self.raw.name, told.pop(self.raw.name)), *sorted(told.items()))

    @reads
    def mids_on(self) -> int:
        """Mid-coats that lie where the act lands, over its last ground coat."""
        return most_mids(self.landed.patches)

    @cached_property
    def _colour(self) -> ColourFact:
        return self.raw.colour() if self.raw.colour else ColourFact()

    @reads
    def chosen_mids(self) -> int | None:
        """The number of mid-coats that was chosen for its colour group, None while none is."""
        return self._colour.chosen

    @reads
    def told_undertone(self) -> str:
        """The product that is to lie under the translucent films of its group, "" while none is told."""
        return self._colour.undertone

    @reads
    def too_many(self) -> tuple[tuple[str, int], ...]:
        """(face, its mid-coats) of other faces of its group that have more than were chosen."""
        chosen, on = self._colour.chosen, self._colour.on
        if chosen is None:
            return ()
        return tuple(sorted((name, n) for name, n in on.items() if n > chosen and name != self.raw.name))

    @reads
    def seen_lit(self) -> bool | None:
        """What a lamp with the lights off showed since its last coat: even, or not; None where nobody looked."""
        return next((c.passed for c in self.raw.surface.checks if c.kind == "lights-off"), None)

    @graded(+1, SHARE_STEP)
    def unseen(self) -> float:
        """Share of it that nobody saw."""
        return self.raw.unseen

    @reads
    def weld_unseen(self) -> bool:
        """Whether it was welded and nobody has looked through it since."""
        s = self.raw.surface
        return s.welded_s is not None and max((t for *_, t in s.inspected), default=float("-inf")) < s.welded_s

    @reads
    def weld_faults(self) -> str:
        """Points of an inspection that are not good."""
        return " ".join(sorted(point for point, answer, _ in self.raw.surface.inspected if answer == FAULT))

    @reads
    def coated(self) -> bool:
        """Whether a layer lies on some of it."""
        return bool(self.raw.surface.layers)

    @reads
    def covered(self) -> bool:
        """Whether a coat lies on all of where the act lands."""
        return bool(self.grounds) and all(g.patch.layers for g in self.grounds)

    @cached_property
    def _bare(self) -> Clock | None:
        clock = self.landed.clock(Runs.BARE)
        return clock if clock is not None and clock.closes_s is not None else None

    @graded(+1, LATE_STEP_H)
    def overdue_h(self) -> float:
        """How long its metal is bare past its limit [h], 0 while it is not."""
        late_s = self.raw.t_s - (self._bare.closes_s or 0.0) if self._bare else 0.0
        return max(0.0, late_s / 3600)

    @reads
    def rust_seen(self) -> bool | None:
        """What a look for flash rust said: True seen, False none, None nobody looked."""
        checks = {c.kind: c.passed for c in self.raw.surface.checks}
        return not checks["no-flash-rust"] if "no-flash-rust" in checks else None

    @reads
    def wetted(self) -> str:
        """What has wetted its bare metal: "rinsed", "dew", or nothing."""
        for p in self.landed.patches:
            if p.bare_s is None:
                continue
            if p.rinsed_s is not None and p.rinsed_s > p.bare_s:
                return "rinsed"
            if self.raw.dewed and self.raw.dewed(p.bare_s, self.raw.t_s):
                return "dew"
        return ""

    @cached_property
    def portions(self) -> list[tuple[float, float]]:
        """(hours bare, share) of each portion."""
        return [((self.raw.t_s - since) / 3600, share) for since, share in self.landed.bare]

    @graded(+1, LATE_STEP_H)
    def apart_h(self) -> float:
        """How long one end is bare before the other [h]."""
        hours = [h for h, _ in self.portions]
        return max(hours) - min(hours) if len(hours) > 1 else 0.0

    @reads
    def stands_acid(self) -> str:
        """The acid that stands on it, "" if none does."""
        work = self.landed.treatment
        return (work.product or "Acid prep") if work else ""

    @property
    def drying(self) -> Clock | None:
        """Until when rinsed metal has to dry, None if it is dry."""
        clock = self.landed.clock(Runs.DRY_OFF)
        return clock if clock is not None and clock.status == Status.WAITING else None

    @reads
    def wet(self) -> bool:
        """Whether it is still wet from its rinse."""
        return self.drying is not None

    @property
    def window(self) -> Clock | None:
        """The window toward the act."""
        return self.landed.clock(Runs.ACT) if STEPS[self.act.kind].act else self.landed.window

    @graded(+1, 10.0)
    def early_min(self) -> float:
        """How long before its opening it was begun [min]; infinitely where it does not open."""
        clock, began = self.window, self.act.began_s
        if clock is None or clock.status == Status.UNJUDGED or began is None:
            return 0.0
        if clock.opens_s is None:
            return 1e9
        return (clock.opens_s - began) / 60 if began <= clock.opens_s - TOLD_S else 0.0

    @graded(+1, 60.0)
    def late_min(self) -> float:
        """How long after the close it was ended [min]."""
        clock, ended = self.window, self.act.ended_s
        if clock is None or clock.status == Status.UNJUDGED or clock.closes_s is None or ended is None:
            return 0.0
        return (ended - clock.closes_s) / 60 if ended >= clock.closes_s + TOLD_S else 0.0

    @reads
    def held_by_check(self) -> str:
        """What a check says that holds an open window back."""
        clock = self.window
        return clock.remark if clock is not None and clock.status == Status.WAITING and clock.remark else ""

    @reads
    def soft(self) -> bool:
        """Whether the film on it cannot be sanded yet: its sheet says so, or it has not flashed off."""
        clocks = (self.landed.clock(Runs.SANDABLE), self.landed.clock(Runs.FLASH))
        return any(clock is not None and clock.status == Status.WAITING for clock in clocks)

    @graded(+1, 10.0)
    def total_um(self) -> float:
        """All film that lies on it, with this coat [µm], as far as it is known."""
        return sum((x.left_um or 0.0) * x.share for x in self.raw.surface.layers) + self._mine_um

    @property
    def _mine_um(self) -> float:
        return (self.act.film.dft_um if self.act.film else None) or 0.0

    @property
    def unknown_film(self) -> str:
        """The product of a layer on it of which no film is known, "" if there is none."""
        return next((x.product for x in self.raw.surface.layers if x.left_um is None), "")

    @property
    def thin_by_gauge(self) -> tuple[str, float] | None:
        """(product, the least film that its sheet asks of the coats of it that are on [µm]) of the first that a gauge
        found too thin, before it was sanded; None where none is.
        """
        found: dict[str, list[float]] = {}
        for x in self.raw.surface.layers:
            least = x.sheet.film.min_um if x.sheet and x.sheet.film else None
            if x.gauged and least is not None and x.least_um is not None:
                sums = found.setdefault(x.product, [0.0, 0.0])
                sums[0] += x.least_um + x.sanded_um
                sums[1] += least
        return next(((product, asked) for product, (um, asked) in found.items() if um < asked - 0.5), None)

    @graded(-1, 5.0)
    def gauged_um(self) -> float:
        """The least film that a gauge found of the product that is too thin [µm]."""
        thin = self.thin_by_gauge
        layers = [x for x in self.raw.surface.layers if thin and x.gauged and x.product == thin[0]]
        return sum((x.least_um or 0.0) + x.sanded_um for x in layers)

    @graded(+1, 10.0)
    def same_um(self) -> float:
        """All film of the same product that lies together on it, with this coat [µm]."""
        film = self._mine_um
        for layer in reversed(self.landed.layers):
            if layer.product != self.act.product:
                break
            film += layer.left_um or 0.0
        return film

    @property
    def most_um(self) -> float | None:
        """The most that its system allows [µm]; what lies there is read."""
        return self.raw.most_um
