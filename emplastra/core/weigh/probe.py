"""A film gauge that stands in for one: a line each time it is put on. Its noise is that of a seed."""

import random
from collections import deque
from dataclasses import dataclass, field

LINES = deque[str]


@dataclass
class Probe:
    """A gauge over a film of film_um, more or less [µm]; zero_um: what it reads on a bare plate; noisy: now and then a
    line is cut, doubled or lost.
    """

    film_um: float = 225.0
    spread_um: float = 12.0
    zero_um: float = 0.0
    seed: int = 1
    noisy: bool = True
    plugged: bool = True
    chance: random.Random = field(init=False)
    waiting: LINES = field(default_factory=deque)

    def __post_init__(self) -> None:
        self.chance = random.Random(self.seed)

    def touch(self, film_um: float | None = None, times: int = 1) -> None:
        """Put it on, so many times: over this film [µm], else over its usual one."""
        for _ in range(times):
            film = self.chance.gauss(self.film_um, self.spread_um) if film_um is None else film_um
            self.waiting.append(f"{max(0.0, film + self.zero_um):.0f} um")

    def bare(self) -> None:
        """Put it on a bare plate."""
        self.waiting.append(f"{self.zero_um:.0f} um")

    def step(self) -> str | None:
        """The next line; None where none comes."""
        if not self.waiting:
            return None
        line = self.waiting.popleft()
        if not self.plugged:
            return None
        if self.noisy and self.chance.random() < 0.02:
            # What came cut is put on again: nobody walks on without a figure.
            self.waiting.appendleft(line)
            return line[:-4]
        return line
