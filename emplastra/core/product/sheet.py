"""Data sheets: from a document to figures that can be computed with.

A document is checked against the published schema, then for what a schema cannot say. Every
complaint names the field by its path and what would be accepted.
"""

import itertools
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from datetime import date
from functools import lru_cache
from itertools import islice
from typing import Any

import jsonschema

from ..air.dewpoint import SPREAD_MIN_K, Limits
from ..words import celsius_q
from .abrasives import GRAIN_UM
from .film import mixed_solids_pct
from .mixing import TOLERANCE_PCT, Band, Part
from .schema import SCHEMA
from .tables import TimeTable, kinetic_table

ISOCYANATE_RH, CAN_RH = 75.0, 70.0
"""The most humidity for isocyanates and for canned lacquer whose sheet says nothing [%]. Common practice, no source."""


class SheetError(ValueError):
    """A document that is no data sheet. `problems` holds (field path, message) pairs."""

    def __init__(self, problems: list[tuple[str, str]]) -> None:
        super().__init__("; ".join(f"{path}: {message}" for path, message in problems))
        self.problems = problems


@dataclass(frozen=True)
class Variant:
    """A ratio: parts by component key, by "volume" or "mass", for a band of temperature [°C]."""

    key: str
    name: str
    by: str
    parts: tuple[tuple[str, float], ...]
    band: Band

    @property
    def ratio_text(self) -> str:
        """The ratio as written on a tin, such as "4 : 1"."""
        return " : ".join(f"{value:g}" for _, value in self.parts)


@dataclass(frozen=True)
class Window:
    """When the next thing may follow: from `opens` to `closes` (None: never), remedy after that.

    again: further stretches (opens, closes) after a closed middle, as in "within 1 h or after 24 h".
    """

    next: str
    opens: TimeTable
    closes: TimeTable | None
    wet_on_wet: bool = False
    grit: str | None = None
    note: str = ""
    again: tuple[tuple[TimeTable, TimeTable | None], ...] = ()

    @property
    def stretches(self) -> tuple[tuple[TimeTable, TimeTable | None], ...]:
        """(opens, closes) of each, in order."""
        return ((self.opens, self.closes), *self.again)


@dataclass(frozen=True)
class FilmRange:
    """Dry film of one coat [µm], the usual number of coats and the wet film that sags [µm]."""

    min_um: float
    typical_um: float
    max_um: float
    coats: int
    sag_wft_um: float | None = None


@dataclass(frozen=True)
class Use:
    """What is used of a product that leaves no film [mL/m2], for each wetting too; parts of water to one of it."""

    ml_m2: float
    wetting_ml_m2: float | None = None
    water_parts: float | None = None


@dataclass(frozen=True)
class Sheet:
    """One revision of a data sheet, ready to compute with.

    over: (what it goes over, whether it does); excluded: substrates; grit: (coarsest, finest) under it; lift_mm: the
    most in one lift [mm]; most_um: the most of all its coats [µm]; final, overpaintable, translucent, bleeding,
    wipe_and_leave: None where the sheet says nothing.
    """

    product: str
    kind: str
    form: str
    components: tuple[Part, ...]
    variants: tuple[Variant, ...]
    tolerance_pct: float
    tolerance_is_stated: bool
    thinner_key: str | None
    thinner_pct: Mapping[str, float]
    induction: TimeTable | None
    pot_life: TimeTable | None
    film: FilmRange | None
    methods: tuple[str, ...]
    times: Mapping[str, TimeTable]
    windows: tuple[Window, ...]
    limits: Limits
    substrates: tuple[str, ...]
    shelf_closed_months: float | None
    hazards: tuple[str, ...]
    source: str
    date: str
    hatch: str
    colour: str
    colours: Mapping[str, str]
    use: Use | None = None
    pot_life_ml: float | None = None
    over: tuple[tuple[str, bool], ...] = ()
    excluded: tuple[str, ...] = ()
    grit: tuple[str, str] | None = None
    lift_mm: float | None = None
    most_um: float | None = None
    final: bool | None = None
    overpaintable: bool | None = None
    translucent: bool | None = None
    bleeding: bool | None = None
    wipe_and_leave: bool | None = None

    @property
    def held_limits(self) -> Limits:
        """Its limits of climate, with the most humidity that is usual where it names none."""
        low, high = self.limits.rh_pct
        if high is not None:
            return self.limits
        usual = ISOCYANATE_RH if "isocyanate" in self.hazards else CAN_RH if self.form == "aerosol" else None
        return replace(self.limits, rh_pct=(low, usual))

    def component(self, key: str) -> Part:
        """The component with this key. Raises KeyError."""
        for part in self.components:
            if part.key == key:
                return part
        raise KeyError(key)

    def variant(self, key: str) -> Variant | None:
        """The ratio with this key, None if there is none."""
        return next((v for v in self.variants if v.key == key), None)

    def parts(self, variant: Variant | None) -> tuple[Part, ...]:
        """Parts of a mix in pouring order with the variant's own ratios; one part if ready to use."""
        if variant is None:
            return (next(p for p in self.components if p.role != "thinner"),)
        rows = [(self.component(key), ratio) for key, ratio in variant.parts]
        return tuple(Part(p.key, p.name, ratio, p.density_g_ml, p.solids_pct, p.role) for p, ratio in rows)

    def thinner(self) -> Part | None:
        """The thinner, None if the sheet names none."""
        return self.component(self.thinner_key) if self.thinner_key else None

    def solids_pct(self, variant: Variant | None) -> float:
        """Solids of the mixed, unthinned product [% by volume], volume-weighted."""
        parts = self.parts(variant)
        volumes = [p.ratio / (p.density_g_ml if variant and variant.by == "mass" else 1.0) for p in parts]
        return mixed_solids_pct([(volume, p.solids_pct) for volume, p in zip(volumes, parts, strict=True)])

    def volume_shares(self, variant: Variant | None) -> dict[str, float]:
        """Share of the mixed volume by component key."""
        parts = self.parts(variant)
        volumes = {p.key: p.ratio / (p.density_g_ml if variant and variant.by == "mass" else 1.0) for p in parts}
        total = sum(volumes.values())
        return {key: volume / total for key, volume in volumes.items()}

    def window_for(self, product: str, kind: str, act: str = "") -> Window | None:
        """The row for the next coat: self, then the named product, then its kind, then any coat.

        An act (weld, close, mask, fit, pack) has a row of its own or none.
        """
        if act:
            return next((window for window in self.windows if window.next == f"act:{act}"), None)
        wanted = (["self"] if product == self.product else []) + [f"product:{product}", f"kind:{kind}", "any"]
        rows = {window.next: window for window in self.windows}
        return next((rows[key] for key in wanted if key in rows), None)


_SAID = ("lift_mm", "most_um", "final", "overpaintable", "translucent", "bleeding", "wipe_and_leave")
"""What a sheet may say in one figure or word."""


@lru_cache(maxsize=1)
def _validator() -> Any:
    return jsonschema.Draft202012Validator(SCHEMA)


def _table(document: Any, role: str) -> TimeTable:
    if isinstance(document, dict) and "theta_k" in document:
        low, high = document["range_c"]
        return kinetic_table(document["minutes"], document["at_c"], document["theta_k"], low, high, role)
    if isinstance(document, dict):
        return TimeTable((), role, tuple((rh, tuple((t, m) for t, m in points)) for rh, points in document["rh"]))
    return TimeTable(tuple((t, m) for t, m in document), role)


def problems_of(document: Any) -> list[tuple[str, str]]:
    """Everything wrong with a document, as (field path, what would be accepted); empty if sound."""
    errors = sorted(islice(_validator().iter_errors(document), 200), key=lambda e: [str(x) for x in e.absolute_path])
    found = [("/".join(str(x) for x in e.absolute_path) or "document", e.message[:200]) for e in errors]
    return found or _unsound(document)


def _unsound(d: dict[str, Any]) -> list[tuple[str, str]]:
    found = []
    try:
        date.fromisoformat(d["date"])
    except ValueError:
        found.append(("date", "there is no such day: write it as 2026-05-12"))
    keys = {c["key"]: c for c in d["components"]}
    if len(keys) != len(d["components"]):
        found.append(("components", "each component needs a key of its own"))
    if d["form"] == "mixed" and "variants" not in d:
        found.append(("variants", "parts to mix need at least one ratio"))
    if "thinner" in d and d["thinner"]["component"] not in keys:
        found.append(("thinner/component", f"no such component; there are {', '.join(keys)}"))
    for grit in d.get("grit", ()):
        if grit not in GRAIN_UM:
            found.append(("grit", f"{grit} is no grade: one of {', '.join(GRAIN_UM)}"))
    return [*found, *_unsound_film(d, keys), *_unsound_variants(d, keys), *_unsound_tables(d)]


def _unsound_film(d: dict[str, Any], keys: dict[str, Any]) -> Iterator[tuple[str, str]]:
    """A film that does not rise, or parts of no solids where film is left."""
    if "film" not in d:
        return
    if not d["film"]["min_um"] <= d["film"]["typical_um"] <= d["film"]["max_um"]:
        yield "film", "min, typical and max must rise"
    for key, c in keys.items():
        if c["role"] in {"base", "ready"} and not c.get("solids_pct", 0) > 0:
            yield (
                f"components/{key}/solids_pct",
                "solids by volume must be above 0 % where the product leaves film",
            )


def _unsound_variants(d: dict[str, Any], keys: dict[str, Any]) -> Iterator[tuple[str, str]]:
    """Ratios of parts that are not there, bands that do not rise."""
    for i, variant in enumerate(d.get("variants", [])):
        for key in variant["parts"]:
            if key not in keys:
                yield f"variants/{i}/parts/{key}", f"no such component; there are {', '.join(keys)}"
        if variant["temp_c"][0] >= variant["temp_c"][1]:
            yield f"variants/{i}/temp_c", "the band must rise"


def _unsound_tables(d: dict[str, Any]) -> Iterator[tuple[str, str]]:
    """Tables of time that cannot be."""
    tables = [(f"times/{k}", t) for k, t in d.get("times", {}).items()]
    tables += [(name, d[name]) for name in ("induction", "pot_life") if name in d]
    for i, window in enumerate(d.get("windows", [])):
        for path, stretch in _stretches(i, window):
            tables += [(f"{path}/{end}", stretch[end]) for end in ("opens", "closes") if stretch.get(end)]
    troubles = [(path, trouble) for path, table in tables if (trouble := _trouble_of(table))]
    yield from troubles
    if not troubles:
        for i, window in enumerate(d.get("windows", [])):
            yield from _unsound_window(i, window)


def _stretches(i: int, window: dict[str, Any]) -> list[tuple[str, dict[str, Any]]]:
    """(path, stretch) of each stretch of a window, in order."""
    again = window.get("again", ())
    return [(f"windows/{i}", window), *((f"windows/{i}/again/{n}", stretch) for n, stretch in enumerate(again))]


def _trouble_of(document: Any) -> str:
    """What is wrong with a table of times, "" if nothing is."""
    try:
        table = _table(document, "min")
    except ValueError as error:
        return str(error)
    for _, points in table.rows or ((0.0, table.points),):
        for (cold, before), (warm, after) in itertools.pairwise(points):
            if after > before:
                return (
                    f"takes longer at {celsius_q(warm)} than at {celsius_q(cold)}: "
                    f"as it gets warmer a time falls or stays"
                )
    if len({(points[0][0], points[-1][0]) for _, points in table.rows}) > 1:
        return "every humidity needs times from the same lowest to the same highest temperature"
    return ""


def _unsound_window(i: int, window: dict[str, Any]) -> Iterator[tuple[str, str]]:
    """Stretches that close before they open, or follow none that closes, wherever one looks."""
    closed: tuple[str, TimeTable] | None = None
    for path, stretch in _stretches(i, window):
        opens = _table(stretch["opens"], "min")
        if path != f"windows/{i}" and closed is None:
            yield path, "follows a stretch that never closes: say when that one closes"
            return
        if closed is not None and _always_before(opens, closed[1]):
            yield f"{path}/opens", "opens before the stretch before it closes, at every temperature"
        closed = (path, _table(stretch["closes"], "max")) if stretch.get("closes") else None
        if closed is not None and _always_before(closed[1], opens):
            yield f"{path}/closes", "closes before it opens, at every temperature"


def _always_before(a: TimeTable, b: TimeTable) -> bool:
    """True if times of a are over before those of b, or with them, at each temperature and humidity of either."""
    levels = {rh for table in (a, b) for rh, _ in table.rows} or {50.0}
    pairs = [(a.minutes_at(temp, rh), b.minutes_at(temp, rh)) for temp in (*_temps(a), *_temps(b)) for rh in levels]
    return all(one is not None and (other is None or one <= other) for one, other in pairs)


def _temps(table: TimeTable) -> list[float]:
    """Temperatures of a table's points [°C]."""
    return [temp for points in (table.points, *(points for _, points in table.rows)) for temp, _ in points]


def _variant(v: dict[str, Any]) -> Variant:
    band = Band(v["key"], v["temp_c"][0], v["temp_c"][1], tuple(v.get("methods", ())))
    return Variant(v["key"], v["name"], v["by"], tuple(v["parts"].items()), band)


def _window(w: dict[str, Any]) -> Window:
    (opens, closes), *again = [
        (_table(s["opens"], "min"), _table(s["closes"], "max") if s.get("closes") else None)
        for s in (w, *w.get("again", ()))
    ]
    remedy = w.get("remedy", {})
    wet_on_wet = w.get("wet_on_wet", False)
    return Window(w["next"], opens, closes, wet_on_wet, remedy.get("grit"), remedy.get("note", ""), tuple(again))


def _limits(told: dict[str, Any]) -> Limits:
    none = (None, None)
    air, surface, rh = (tuple(told.get(name, none)) for name in ("air_c", "surface_c", "rh_pct"))
    return Limits(air, surface, rh, told.get("spread_k", SPREAD_MIN_K))


def _more(d: dict[str, Any]) -> dict[str, Any]:
    """What a sheet may say beside its figures; unknown is unknown."""
    return {name: d.get(name) for name in _SAID} | {
        "over": tuple(d.get("over", {}).items()),
        "excluded": tuple(d.get("excluded", ())),
        "grit": tuple(d["grit"]) if "grit" in d else None,
    }


def read(document: Any) -> Sheet:
    """A validated sheet from a document (parsed JSON or YAML). Raises SheetError naming each field."""
    problems = problems_of(document)
    if problems:
        raise SheetError(problems)
    d = document
    components = tuple(
        Part(c["key"], c["name"], 1.0, c["density_g_ml"], c.get("solids_pct", 0.0), c["role"]) for c in d["components"]
    )
    thinner = d.get("thinner", {"component": None, "pct": {}})
    return Sheet(
        product=d["product"],
        kind=d["kind"],
        form=d["form"],
        components=components,
        variants=tuple(_variant(v) for v in d.get("variants", [])),
        tolerance_pct=d.get("tolerance_pct", TOLERANCE_PCT),
        tolerance_is_stated="tolerance_pct" in d,
        thinner_key=thinner["component"],
        thinner_pct=thinner["pct"],
        induction=_table(d["induction"], "min") if "induction" in d else None,
        pot_life=_table(d["pot_life"], "max") if "pot_life" in d else None,
        film=FilmRange(**d["film"]) if "film" in d else None,
        methods=tuple(d.get("methods", ())),
        times={k: _table(t, "min") for k, t in d.get("times", {}).items()},
        windows=tuple(_window(w) for w in d.get("windows", [])),
        limits=_limits(d.get("limits", {})),
        substrates=tuple(d.get("substrates", ())),
        shelf_closed_months=d.get("shelf", {}).get("closed_months"),
        hazards=tuple(d.get("hazards", ())),
        source=d["source"],
        date=d["date"],
        hatch=d.get("hatch", "plain"),
        colour=d.get("colour", "#b9bab3"),
        colours={c["key"]: c.get("colour", "#8b8f94") for c in d["components"]},
        use=Use(**d["use"]) if "use" in d else None,
        pot_life_ml=d.get("pot_life_ml"),
        **_more(d),
    )
