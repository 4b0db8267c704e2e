"""The end of a practice: what held, what showed, what nobody could see yet, film, hours, money, harm avoided."""

from dataclasses import dataclass

from .world import RATE, Follows, Row, World


@dataclass(frozen=True)
class Line:
    """A decision and what came of it: the act, what follows from it worst (None: nothing), whether it showed."""

    row: Row
    worst: Follows | None
    showed: bool


@dataclass(frozen=True)
class Debrief:
    """What a practice came to.

    held: acts from which nothing follows; showed: what was seen, told_at_end: what was hidden or came later; kept,
    missed: windows; open_faces: names of faces whose plan is not done; films: (face, product, planned, put on [µm]);
    hours: of work [h], again_h: of work that has to be done again [h]; harm: what hurt somebody, guarded: cautions that
    were taken.
    """

    lines: tuple[Line, ...]
    held: int
    showed: tuple[Follows, ...]
    later: tuple[Follows, ...]
    kept: int
    missed: int
    open_faces: tuple[str, ...]
    films: tuple[tuple[str, str, float, float | None], ...]
    hours: float
    again_h: float
    money: float
    harm: tuple[Follows, ...]
    guarded: int

    @property
    def is_good(self) -> bool:
        """True if nothing follows, nobody was hurt, and all is done."""
        return not self.showed and not self.later and not self.open_faces

    @property
    def sentence(self) -> str:
        """It in a line."""
        wrong = len(self.showed) + len(self.later)
        if self.is_good:
            return f"All of it held: {self.kept} window{'s' if self.kept != 1 else ''} kept, nobody was hurt."
        left = (
            f", {len(self.open_faces)} face{'s' if len(self.open_faces) != 1 else ''} not finished"
            if self.open_faces
            else ""
        )
        return f"{self.held} held, {wrong} showed{left}: {self.again_h:.1f} h of work again."


def debrief(world: World) -> Debrief:
    """What a practice comes to as it stands; whole once it has ended."""
    shown, hours = world.shown, world.work_s / 3600.0
    lines, harm = _lines(world, shown), [f for f in world.follows if f.rule == "harm"]
    return Debrief(
        lines,
        sum(line.worst is None for line in lines),
        _but(shown, harm),
        _but(world.unseen, harm) if world.ended else (),
        world.kept,
        world.missed,
        tuple(face.given.name for face in world.faces.values() if not face.done(world.t_s)),
        tuple(world.films),
        hours,
        _again_h(world.follows),
        hours * RATE + world.paint,
        tuple(harm),
        world.guarded,
    )


def _lines(world: World, shown: list[Follows]) -> tuple[Line, ...]:
    """Each act with the worst that follows from it; waits from which nothing follows are left out."""
    lines = []
    for row in world.rows:
        mine = [f for f in world.follows if f.act == row.number]
        worst = max(mine, key=lambda f: (f.again_h, f.shows_s), default=None)
        if worst is not None or row.words not in {"Wait", "End"}:
            lines.append(Line(row, worst, worst in shown))
    return tuple(lines)


def _but(follows: list[Follows], harm: list[Follows]) -> tuple[Follows, ...]:
    """What follows, but for what hurts somebody."""
    return tuple(f for f in follows if f not in harm)


def _again_h(follows: list[Follows]) -> float:
    """Hours of work again [h]: of what shows twice on a face once."""
    return sum(f.again_h for f in {(f.face, f.name): f for f in follows}.values())
