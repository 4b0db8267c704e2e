"""The plain way: minute by minute, in lists and loops, with nothing of the program in it but its answers beside it.

Random sheets and histories; `python -m tests.plain 500` goes through so many. Written from the published rules alone:
straight lines between readings, the last held for an hour, then the last known day again; a lumped section; time at
temperature; bare metal by humidity at it.
"""

import itertools
import math
import random
import sys
from bisect import bisect_right

MINUTE, HOUR, DAY = 60.0, 3600.0, 86400.0
HORIZON_MIN = 30 * 1440
A, B = 17.62, 243.12
STEEL = ((40, 24.0), (60, 6.0), (75, 3.0), (85, 1.0))


def dew_of(temp, rh):
    gamma = math.log(rh / 100) + A * temp / (B + temp)
    return B * gamma / (A - gamma)


def vapour(temp):
    return 6.112 * math.exp(A * temp / (B + temp))


def rh_of(temp, dew):
    return min(100.0, 100.0 * vapour(dew) / vapour(temp))


class Place:
    """Readings (epoch s, °C, %) of a place, what is forecast of it, and what is assumed (°C, %)."""

    def __init__(self, readings, forecast, assumed):
        self.assumed = assumed
        self.first = readings[0][0]
        knots = [(t, c, dew_of(c, rh)) for t, c, rh in readings]
        known = end = readings[-1][0]
        held = end + HOUR
        later = [(t, c, dew_of(c, rh)) for t, c, rh in forecast if t > held]
        knots.append((held, *knots[-1][1:]))
        if later:
            begin = min(t for t, *_ in forecast)
            if begin > held:
                knots.append((begin, *knots[-1][1:]))
                knots.append(next((t, c, dew_of(c, rh)) for t, c, rh in forecast if t == begin))
            else:
                line = [(t, c, dew_of(c, rh)) for t, c, rh in forecast]
                knots.append((held, *self._on(line, held)))
            knots += [k for k in later if k[0] > knots[-1][0]]
            known = held = knots[-1][0]
        self.knots, self.times, self.tail = knots, [k[0] for k in knots], held
        self.day = [self._on(knots, known - DAY + h * HOUR) for h in range(24)]
        self.blank = [known - DAY + h * HOUR < self.first for h in range(24)]
        self.lately = [(air, rh_of(air, dew)) for t, air, dew in knots if known - DAY <= t <= known]
        self.known = known

    @staticmethod
    def _on(knots, t):
        if t <= knots[0][0]:
            return knots[0][1:]
        i = bisect_right(knots, t, key=lambda k: k[0])
        if i == len(knots):
            return knots[-1][1:]
        a, b = knots[i - 1], knots[i]
        x = (t - a[0]) / (b[0] - a[0])
        return a[1] + x * (b[1] - a[1]), a[2] + x * (b[2] - a[2])

    def at(self, t, way):
        """(air, dew point) at a moment, what nobody knows taken cold, warm or damp."""
        if t < self.first:
            return self.assumed[0], dew_of(*self.assumed)
        if t < self.tail:
            i = min(bisect_right(self.times, t), len(self.times) - 1)
            a, b = self.knots[i - 1], self.knots[i]
            x = (t - a[0]) / (b[0] - a[0]) if b[0] > a[0] else 1.0
            return a[1] + x * (b[1] - a[1]), a[2] + x * (b[2] - a[2])
        hour = (t - self.known) / HOUR
        (a, da), (b, db) = (self._taken(int(hour + n) % 24, way) for n in (0, 1))
        x = hour - int(hour)
        return a + x * (b - a), da + x * (db - da)

    def _taken(self, h, way):
        air, dew = self.day[h]
        rh = rh_of(air, dew)
        if self.blank[h]:  # nobody knows that hour even of the last day: the worst of what is known
            air = (max if way == "warm" else min)(c for c, _ in self.lately)
            rh = max(x for _, x in self.lately) if way == "damp" else rh
        temp = max(air, self.assumed[0]) if way == "warm" else min(air, self.assumed[0])
        return temp, dew_of(temp, max(rh, self.assumed[1]) if way == "damp" else rh)


class Piece:
    """A section with its time constant [s] that stands in places from moments on: [(epoch s, Place)].

    warmer: by how much its metal is off [K], to see how much hangs on that.
    """

    def __init__(self, tau, stays, start, warmer=0.0):
        self.tau, self.stays, self.start, self.warmer = tau, stays, start, warmer
        self.rows = {}

    def row(self, way, n):
        """(air, dew point, metal) in the middle of the nth minute since `start`."""
        if way not in self.rows:
            self.rows[way] = self._walk(way), []
        walk, rows = self.rows[way]
        while len(rows) <= n:
            rows.append(next(walk))
        return rows[n]

    def _walk(self, way):
        keep, t = math.exp(-MINUTE / self.tau) if self.tau else 0.0, self.start - math.ceil(12 * self.tau / 60) * 60
        metal = self._air(t, way)[0]
        while True:
            air, dew = self._air(t + 30, way)
            before, metal = metal, air + (metal - air) * keep
            if t >= self.start:
                yield air, dew, ((before + metal) / 2 if self.tau else air) + self.warmer
            t += MINUTE

    def _air(self, t, way):
        return [place for since, place in self.stays if since <= t or since is self.stays[0][0]][-1].at(t, way)


def sheet_rate(points, role):
    """Time at temperature, with the rules outside the points, as a function of °C."""
    xs, ys = [-1 / (t + 273.15) for t, _ in points], [-math.log(m) for _, m in points]
    low, high = points[0][0], points[-1][0]

    def rate(temp):
        if len(points) == 1:
            edge = min(max(temp, low - 10), low + 10 if role == "min" else 1e9)
            if role == "min":
                return 0.0 if temp < low - 10 - 1e-6 else math.exp(ys[0] + math.log(2) * min((edge - low) / 10, 0))
            return math.exp(ys[0] + math.log(2) * max((edge - low) / 10, 0))
        if role == "min" and temp < low - 5 - 1e-6:
            return 0.0
        temp = max(temp, low - 5)
        temp = min(temp, high + 5) if role == "min" else temp
        x = -1 / (temp + 273.15)
        i = min(max(bisect_right(xs, x) - 1, 0), len(xs) - 2)
        return math.exp(ys[i] + (x - xs[i]) * (ys[i + 1] - ys[i]) / (xs[i + 1] - xs[i]))

    return rate


def bare_rate(longer, most):
    """Share of the bare hours a minute takes, at metal and dew point."""

    def rate(metal, dew):
        rh = rh_of(metal, dew)
        hours = STEEL[0][1] if rh <= 40 else STEEL[-1][1]
        for (a, x), (b, y) in itertools.pairwise(STEEL):
            if a < rh <= b:
                hours = math.exp(math.log(x) + (rh - a) / (b - a) * (math.log(y) - math.log(x)))
        hours = min(longer * hours, most)
        return 1 / 60 / (min(1.0, hours) if metal - dew < 3 else hours)

    return rate


def over(piece, way, since, rate, target=1.0):
    """When a rate of (air, dew, metal) adds up to the target [epoch s]; None within 30 days."""
    done, t = 0.0, since
    while t < since + HORIZON_MIN * 60:
        n = math.floor((t - piece.start) / 60 + 1e-9)
        end = min(piece.start + (n + 1) * 60, since + HORIZON_MIN * 60)
        by = rate(*piece.row(way, n))
        gained = by * (end - t) / 60
        if done + gained >= target:
            return t + (target - done) / by * 60
        done, t = done + gained, end
    return None


def part(piece, way, since, until, rate):
    """What a rate adds up to between two moments."""
    done, t = 0.0, since
    while t < until:
        n = math.floor((t - piece.start) / 60 + 1e-9)
        end = min(piece.start + (n + 1) * 60, until)
        done, t = done + rate(*piece.row(way, n)) * (end - t) / 60, end
    return done


class Answer:
    """When a rate adds up to its target [epoch s], None within 30 days; and how far it is at another moment."""

    def __init__(self, piece, way, since, rate, target=1.0):
        self.since, self.target = since, target
        self.t = over(piece, way, since, rate, target)
        self.gone = lambda until: part(piece, way, since, until, rate)

    def off(self, t):
        """Share of the target by which another moment [epoch s] misses it."""
        return abs(self.gone(t) - self.target) / self.target


class Case:
    """A random sheet, air, section and history, and what the plain way says of it."""

    def __init__(self, seed):
        r = self.random = random.Random(seed)
        self.tau_of = (
            r.choice(["steel", "cast iron", "aluminium"]),
            r.choice([0.8, 1.2, 3.0, 8.0, 20.0, 40.0]),
            r.choice([1, 2]),
        )
        self.assumed = (r.choice([15.7, 18.0, 22.3]), r.choice([45.0, 55.0, 70.0]))
        self.places = [self._place(r.uniform(-2, 24), r.random() < 0.4) for _ in range(2)]
        self.t0 = 100 * DAY + r.randrange(0, 1440) * 60.0
        self.move = self.t0 + r.randrange(-600, 900) * 60.0 if r.random() < 0.5 else None
        self.times = {
            name: self._points(*span)
            for name, span in {"flash": (8, 60), "opens": (40, 400), "cure": (900, 4000), "contact": (10, 40)}.items()
        }
        self.closes = self._points(700, 5000)
        self.salted, self.by_hand = r.random() < 0.3, r.random() < 0.3
        self.bared, at = self.t0, self.t0 + r.randrange(20, 200) * 60.0
        self.prep = self.rinse = self.dried = None
        if r.random() < 0.5:
            self.prep, self.rinse = at, at + r.randrange(20, 60) * 60.0
            self.dried = self.rinse + r.randrange(3, 40) * 60.0 if r.random() < 0.5 else None
            at = self.rinse + r.randrange(60, 120) * 60.0
        self.coats = []
        for share in r.choice([(1.0,), (0.5, 0.5), (1.0, 1.0)]):
            began, ended = at, at + r.randrange(5, 40) * 60.0
            self.coats.append((began, ended, share, r.choice([40.0, 50.0, 50.0, 70.0, 130.0])))
            at = ended + r.randrange(30, 600) * 60.0

    def _points(self, low, high):
        r, middle = self.random, self.random.uniform(low, high)
        if r.random() < 0.2:
            return [[20, round(middle, 1)]]
        temps = sorted(r.sample([5, 10, 15, 20, 25, 30], r.choice([2, 3])))
        return [[t, round(middle * math.exp(-r.uniform(0.05, 0.07) * (t - 20)), 1)] for t in temps]

    def _place(self, mean, with_forecast):
        """Readings each 10 to 40 minutes with gaps, over three days and up to two after the begin."""
        r, t, rows = self.random, 97 * DAY, []
        swing, damp = r.uniform(0.5, 7), r.uniform(40, 80)
        last = 100 * DAY + r.uniform(0.1, 2.2) * DAY
        while t < last:
            c = mean + swing * math.sin(t / 13751) + r.uniform(-0.3, 0.3)
            rows.append(
                (t, round(c, 2), round(min(97.0, damp - 2 * swing * math.sin(t / 13751) + r.uniform(-2, 2)), 1))
            )
            t += r.choice([10, 20, 20, 40, 40, 200 if r.random() < 0.1 else 20]) * 60.0
        begin = rows[-1][0] + r.choice([-3, 0.5, 4]) * HOUR
        hours = [(begin + h * HOUR, mean + swing * math.sin((begin + h * HOUR) / 13751) + 1, damp) for h in range(30)]
        return rows, hours if with_forecast else []

    def plain(self, tau, warmer=0.0):
        """{what: Answer} by the plain way. Where the answer is a plain sum of hours it is such an Answer too."""
        places = [Place(rows, hours, self.assumed) for rows, hours in self.places]
        stays = [(0.0, places[0])] + ([(self.move, places[1])] if self.move is not None else [])
        piece = Piece(tau, stays, 99 * DAY, warmer)
        bare = bare_rate(2.0 if self.by_hand else 1.0, 4.0 if self.salted else math.inf)
        wet_h = min(6.0 if self.by_hand else 3.0, 4.0 if self.salted else 99)
        wet, dry_off = (
            1 / 60 / wet_h,
            lambda air, dew, metal: min(1.0, max(0.0, (vapour(metal) - vapour(dew)) / 11)) / 45,
        )
        said = {}

        def by(law):
            return lambda air, dew, metal: law(metal, dew)

        if self.rinse is None:
            said["bare"] = Answer(piece, "damp", self.bared, by(bare))
        else:
            since = self.rinse
            drying = Answer(piece, "damp", since, dry_off)
            dry = self.dried or drying.t
            if self.dried is None:
                said["dry"] = drying
            left = 1 - ((dry - since) / 60 * wet if dry else 1.0)
            if left > 0:
                said["bare"] = Answer(piece, "damp", dry, by(bare), left)
            else:
                said["bare"] = Answer(piece, "damp", since, lambda *of: wet)
            contact = sheet_rate(self.times["contact"], "min")
            said["contact"] = Answer(piece, "cold", self.prep, lambda air, dew, metal: contact(metal))
        tops = self.coats if self.coats[0][2] < 1 else self.coats[-1:]
        for name in ("flash", "opens", "cure"):
            law = sheet_rate(self.times[name], "min")
            ends = [
                Answer(
                    piece,
                    "cold",
                    ended,
                    lambda air, dew, metal, law=law: law(metal),
                    min(4.0, max(1.0, film / 50) ** 2),
                )
                for _, ended, _, film in tops
            ]
            said[name] = max(ends, key=lambda a: math.inf if a.t is None else a.t)
        law = sheet_rate(self.closes, "max")
        ends = [Answer(piece, "warm", began, lambda air, dew, metal: law(metal)) for began, *_ in tops]
        said["closes"] = min(ends, key=lambda a: math.inf if a.t is None else a.t)
        return said

    def document(self):
        """The sheet as a document beside the format's other fields."""
        return {
            "times": {name: points for name, points in self.times.items() if name != "opens"},
            "windows": [{"next": "any", "opens": self.times["opens"], "closes": self.closes}],
        }


def main():
    """Go through so many cases and say how they agree."""
    from tests.core.test_plain import apart

    count = int(sys.argv[1]) if len(sys.argv) > 1 else 500
    worst = sorted((apart(seed) for seed in range(count)), reverse=True)[:5]
    print(f"{count} cases; furthest apart, as a share of what is allowed:")
    for share, seed, what, seconds in worst:
        print(f"  case {seed}, {what}: {seconds:.0f} s, {share:.2f}")


if __name__ == "__main__":
    import django

    django.setup()
    main()
