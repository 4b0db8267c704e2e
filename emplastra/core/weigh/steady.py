"""When a weight may be taken: it stands still, every line of late was whole, and the last is fresh."""

from collections import deque
from dataclasses import dataclass
from enum import StrEnum

from .lines import Reading

FRESH_S = 1.0
"""Older lines say nothing of what stands on the scale now [s]."""
LINES = 4
"""So many lines, one after another, have to say the same."""
STILL_S = 0.5
"""And so long [s]: a thread of paint that still runs moves it by more than a step meanwhile."""


class Link(StrEnum):
    """How it stands with a scale."""

    NONE = "none"
    LOST = "lost"
    SILENT = "silent"
    OVER = "over"
    GARBLED = "garbled"
    MOVING = "moving"
    STEADY = "steady"


@dataclass(frozen=True)
class Sample:
    """A weight as it came [g] at a moment [s of a clock that only runs on], numbered; steady: it may be taken."""

    number: int
    at_s: float
    grams: float | None
    step_g: float
    steady: bool
    link: Link

    def age_s(self, now_s: float) -> float:
        """How old it is [s]."""
        return now_s - self.at_s


class Steady:
    """Lines of one scale as they come, and what may be taken of them."""

    def __init__(self, step_g: float | None = None) -> None:
        """step_g: what the scale resolves [g]; None: the last place of what it writes."""
        self.step_g = step_g
        self.number = 0
        self._run: deque[tuple[float, Reading]] = deque(maxlen=40)

    def add(self, at_s: float, reading: Reading | None) -> Sample:
        """The sample that a line makes at a moment [s]; None: a line that was not understood."""
        self.number += 1
        if reading is None or reading.grams is None:
            self._run.clear()
            link = Link.OVER if reading is not None else Link.GARBLED
            return Sample(self.number, at_s, None, 0.0, False, link)
        self._run.append((at_s, reading))
        step = self.step_g or reading.step_g
        steady = reading.steady is not False and self._stands(at_s, reading.grams, step)
        return Sample(self.number, at_s, reading.grams, step, steady, Link.STEADY if steady else Link.MOVING)

    def _stands(self, at_s: float, grams: float, step_g: float) -> bool:
        """True if the last lines all say this, within one step of each other, often and long enough without a gap.

        A line that is cut at its head may have lost its point: the finest step of them all counts.
        """
        low = high = grams
        count, since_s, after_s = 0, at_s, at_s
        for moment_s, reading in reversed(self._run):
            assert reading.grams is not None
            low, high = min(low, reading.grams), max(high, reading.grams)
            step_g = min(step_g, self.step_g or reading.step_g)
            if high - low > step_g * 1.01 or reading.steady is False or after_s - moment_s > FRESH_S:
                break
            count, since_s, after_s = count + 1, moment_s, moment_s
            if count >= LINES and at_s - since_s >= STILL_S:
                return True
        return False

    def forget(self) -> None:
        """The link was lost: what came before says nothing of what comes."""
        self._run.clear()
