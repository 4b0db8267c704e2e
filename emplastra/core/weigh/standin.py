"""A scale that stands in for one: it pours at a natural pace, drifts, jitters, drops and cuts lines, is overloaded and
goes below nothing. Its noise is that of a seed, so that it does the same again.
"""

import math
import random
from dataclasses import dataclass, field

from .lines import checked

EVERY_S = 0.1
"""A line comes so often [s]."""
LAG_S = 0.25
"""The reading follows the pan so far behind [s]."""
RUN_ON_S = 0.5
"""What still runs when the tin is tilted back [s]."""


@dataclass
class StandIn:
    """A scale of its own with somebody who pours. Masses in g, rates in g/s.

    noisy: it jitters, drifts, drops and cuts lines; checked: its lines bear a mark and a check.
    """

    step_g: float = 0.1
    most_g: float = 6000.0
    seed: int = 1
    noisy: bool = True
    checked: bool = False
    on_pan: float = 0.0
    shown: float = 0.0
    zero: float = 0.0
    rate: float = 0.0
    wanted_rate: float = 0.0
    drift: float = 0.0
    until_g: float | None = None
    plugged: bool = True
    lifted: float = 0.0
    chance: random.Random = field(init=False)

    def __post_init__(self) -> None:
        self.chance = random.Random(self.seed)

    def pour(self, rate: float = 12.0, until_g: float | None = None) -> None:
        """Tilt the tin, at most at a rate [g/s], until so much more is in [g], else until it is stopped."""
        self.wanted_rate = rate
        self.until_g = None if until_g is None else self.on_pan + until_g

    def stop(self) -> None:
        """Tilt it back; a little runs on."""
        self.wanted_rate, self.until_g = 0.0, None

    def put(self, grams: float) -> None:
        """Put something on the pan, such as the vessel."""
        self.on_pan += grams

    def lift(self) -> None:
        """Take everything off, or put it back."""
        self.on_pan, self.lifted = (self.lifted, 0.0) if self.lifted else (0.0, self.on_pan)

    def tare(self) -> None:
        """Its own key: what is on it counts as nothing."""
        self.zero = self.shown

    def step(self) -> str | None:
        """The next line, EVERY_S after the last; None where none comes."""
        self._flow()
        self.shown += (self.on_pan - self.shown) * (1 - math.exp(-EVERY_S / LAG_S))
        if abs(self.on_pan - self.shown) < self.step_g / 20:
            self.shown = self.on_pan
        noise = 0.0
        if self.noisy:
            self.drift += self.chance.gauss(0.0, self.step_g / 400)
            noise = self.drift + self.chance.gauss(0.0, self.step_g / 8)
        if not self.plugged or (self.noisy and self.chance.random() < 0.02):
            return None
        line = self._line(self.shown - self.zero + noise)
        if self.noisy and self.chance.random() < 0.01:
            at = self.chance.randrange(len(line))
            line = line[at:] if self.chance.random() < 0.5 else line[:at] + line
        return line

    def _flow(self) -> None:
        """What runs in, its rate rising and falling as a tin is tilted."""
        if self.until_g is not None:
            left = self.until_g - self.on_pan
            if left <= 0.0:
                self.on_pan, self.rate = self.until_g, 0.0
                self.stop()
                return
            # A practised hand slows down as the mark comes near.
            self.wanted_rate = min(self.wanted_rate, max(0.4, left / 1.2))
        self.rate += (self.wanted_rate - self.rate) * (1 - math.exp(-EVERY_S / RUN_ON_S))
        if self.rate < 0.02 and not self.wanted_rate:
            self.rate = 0.0
        self.on_pan += min(self.rate * EVERY_S, math.inf if self.until_g is None else self.until_g - self.on_pan)

    def _line(self, grams: float) -> str:
        places = max(0, round(-math.log10(self.step_g)))
        over = self.shown > self.most_g
        value = f"{round(grams / self.step_g) * self.step_g:.{places}f}"
        if not self.checked:
            return "------" if over else f"{value} g"
        moving = self.rate > 0.2 or abs(self.on_pan - self.shown) > self.step_g
        body = f"{'!' if over else '~' if moving else '='} {'' if over else value:>9} g#"
        return body + checked(body)
