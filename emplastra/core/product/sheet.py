"""Data sheets: from a document to figures that can be computed with.

A document is checked against the published schema, then for what a schema cannot say. Every
complaint names the field by its path and what would be accepted.
"""

import itertools
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from functools import cached_property, lru_cache
from itertools import islice
from typing import Any

import jsonschema

from ..air.dewpoint import SPREAD_MIN_K, Limits
from ..document import wanted
from ..words import celsius_q
from ..working import Basis, Figure, Unknown
from .abrasives import GRAIN_UM
from .film import mixed_solids_pct
from .mixing import TOLERANCE_PCT, Band, Part
from .schema import SCHEMA, UNKNOWN
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
    """When the next thing may follow: from `opens` to `closes` (None: never), remedy after that; an end that nobody
    told is Unknown.

    again: further stretches (opens, closes) after a closed middle, as in "within 1 h or after 24 h".
    """

    next: str
    opens: "Opens"
    closes: "Closes"
    wet_on_wet: bool = False
    grit: str | None = None
    note: str = ""
    again: tuple[tuple["Opens", "Closes"], ...] = ()

    @property
    def stretches(self) -> tuple[tuple["Opens", "Closes"], ...]:
        """(opens, closes) of each, in order."""
        return ((self.opens, self.closes), *self.again)


Opens = TimeTable | Unknown
Closes = TimeTable | Unknown | None


@dataclass(frozen=True)
class FilmRange:
    """Dry film of one coat [µm], the usual number of coats and the wet film that sags [µm]; None: not told."""

    min_um: float | None = None
    typical_um: float | None = None
    max_um: float | None = None
    coats: int | None = None
    sag_wft_um: float | None = None

    @property
    def aim_um(self) -> float | None:
        """The film to aim at [µm]: the typical, else the middle of what it may be; None if nothing is told."""
        if self.typical_um is not None:
            return self.typical_um
        ends = [um for um in (self.min_um, self.max_um) if um is not None]
        return sum(ends) / len(ends) if ends else None


@dataclass(frozen=True)
class Schedule:
    """Force-dry or infrared ("force-dry", "infrared"): minutes at a temperature of the metal [°C], after a flash [min]
    (None: not told).
    """

    how: str
    metal_c: float
    minutes: float
    flash_min: float | None = None


@dataclass(frozen=True)
class Use:
    """What is used of a product that leaves no film [mL/m2] (None: not told), for each wetting too; parts of water to
    one of it.
    """

    ml_m2: float | None = None
    wetting_ml_m2: float | None = None
    water_parts: float | None = None


@dataclass(frozen=True)
class Tin:
    """A size in which a component is sold [mL], and its price (None: not told)."""

    component: str
    ml: float
    price: float | None = None


@dataclass(frozen=True)
class Sheet:
    """One revision of a data sheet, ready to compute with.

    over: (what it goes over, whether it does); excluded: substrates; grit: (coarsest, finest) under it; lift_mm: the
    most in one lift [mm]; most_um: the most of all its coats [µm]; final, overpaintable, translucent, bleeding,
    wipe_and_leave: None where the sheet says nothing. coverage_m2_l: (least, most) of a litre [m2/L];
    hides: (its contrast [%], in which dry film [µm]); no_induction: it
    is told that it wants none; assumed: paths of figures that are typical of the kind.
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
    shelf_opened_months: float | None
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
    coverage_m2_l: tuple[float, float] | None = None
    hides: tuple[float, float] | None = None
    no_induction: bool = False
    assumed: frozenset[str] = frozenset()
    schedules: tuple[Schedule, ...] = ()
    tins: tuple[Tin, ...] = ()

    def basis(self, *paths: str) -> Basis:
        """What figures at these paths of its document rest on: the weakest of them."""
        return Basis.ASSUMED if self.assumed.intersection(paths) else Basis.SHEET

    @property
    def lacks_ratio(self) -> bool:
        """True for parts to mix whose ratio nobody told: it is never assumed."""
        return self.form == "mixed" and not self.variants

    @property
    def aim_um(self) -> float | None:
        """The dry film of a coat to aim at [µm]; None if nobody told."""
        return self.film.aim_um if self.film else None

    @property
    def coats(self) -> int | None:
        """The usual number of coats; None if nobody told."""
        return self.film.coats if self.film else None

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

    @cached_property
    def _memo(self) -> dict[Any, Any]:
        return {}

    def once(self, key: Any, make: Callable[[], Any]) -> Any:
        """What follows from a key and this sheet alone, worked out once: a sheet never changes."""
        if key not in self._memo:
            self._memo.setdefault(key, make())
        return self._memo[key]

    def parts(self, variant: Variant | None) -> tuple[Part, ...]:
        """Parts of a mix in pouring order with the variant's own ratios; one part if ready to use."""
        found: tuple[Part, ...] = self.once(("parts", variant), lambda: self._parts(variant))
        return found

    def _parts(self, variant: Variant | None) -> tuple[Part, ...]:
        if variant is None:
            return (next(p for p in self.components if p.role != "thinner"),)
        rows = [(self.component(key), ratio) for key, ratio in variant.parts]
        return tuple(replace(p, ratio=ratio) for p, ratio in rows)

    def thinner(self) -> Part | None:
        """The thinner, None if the sheet names none."""
        return self.component(self.thinner_key) if self.thinner_key else None

    def solids_pct(self, variant: Variant | None) -> Figure | Unknown:
        """Solids of the mixed, unthinned product [% by volume], volume-weighted; Unknown names what is missing."""
        found: Figure | Unknown = self.once(("solids", variant), lambda: self._solids_pct(variant))
        return found

    def _solids_pct(self, variant: Variant | None) -> Figure | Unknown:
        if self.lacks_ratio:
            return Unknown("variants", f"the ratio of {self.product}")
        parts = self.parts(variant)
        bare = next((p for p in parts if p.solids_pct is None), None)
        if bare is not None and self.coverage_m2_l and self.aim_um is not None and self.basis("film") is Basis.SHEET:
            # m2/L = 10·VS/DFT; the least that a litre covers means the least solids, and so the most paint.
            return Figure(min(100.0, self.coverage_m2_l[0] * self.aim_um / 10.0), Basis.ESTIMATED)
        if bare is not None:
            return Unknown(_solids_of(bare), f"the solids of {bare.name.lower()} of {self.product}")
        volumes = self._volumes(variant)
        if isinstance(volumes, Unknown):
            return volumes
        mixed = mixed_solids_pct([(volume, p.solids_pct or 0.0) for volume, p in zip(volumes, parts, strict=True)])
        return Figure(mixed, self.basis(*map(_solids_of, parts)))

    def _volumes(self, variant: Variant | None) -> "Sequence[float] | Unknown":
        """Parts by volume in pouring order; of a ratio by mass they go by the densities."""
        parts = self.parts(variant)
        if variant is None or variant.by == "volume":
            return [p.ratio for p in parts]
        found = []
        for p in parts:
            if p.density_g_ml is None:
                return Unknown(f"components/{p.key}/density_g_ml", f"the density of {p.name.lower()} of {self.product}")
            found.append(p.ratio / p.density_g_ml)
        return found

    def volume_shares(self, variant: Variant | None) -> dict[str, float]:
        """Share of the mixed volume by component key; empty where nobody can say."""
        found: dict[str, float] = self.once(("shares", variant), lambda: self._volume_shares(variant))
        return found

    def _volume_shares(self, variant: Variant | None) -> dict[str, float]:
        volumes = self._volumes(variant)
        if self.lacks_ratio or isinstance(volumes, Unknown):
            return {}
        parts = self.parts(variant)
        return {p.key: volume / sum(volumes) for p, volume in zip(parts, volumes, strict=True)}

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


def _solids_of(part: Part) -> str:
    """Where in a document the solids of a part stand."""
    return f"components/{part.key}/solids_pct"


@lru_cache(maxsize=1)
def _validator() -> Any:
    return jsonschema.Draft202012Validator(SCHEMA)


def table_of(document: Any, role: str, assumed: bool = False) -> TimeTable:
    """Times at temperatures as a document has them. role: min or max. Raises ValueError for a table that cannot be."""
    if isinstance(document, dict) and "theta_k" in document:
        low, high = document["range_c"]
        return kinetic_table(document["minutes"], document["at_c"], document["theta_k"], low, high, role)
    if isinstance(document, dict):
        rows = tuple((rh, tuple((t, m) for t, m in points)) for rh, points in document["rh"])
        return TimeTable((), role, rows, assumed=assumed)
    return TimeTable(tuple((t, m) for t, m in document), role, assumed=assumed)


def _opens(document: Any) -> Opens:
    return Unknown("windows", "when it may follow is") if document == UNKNOWN else table_of(document, "min")


def _closes(document: Any) -> Closes:
    if document is None:
        return None
    return Unknown("windows", "until when it may follow is") if document == UNKNOWN else table_of(document, "max")


def problems_of(document: Any) -> list[tuple[str, str]]:
    """Everything wrong with a document, as (field path, what would be accepted); empty if sound."""
    errors = sorted(islice(_validator().iter_errors(document), 200), key=lambda e: [str(x) for x in e.absolute_path])
    found = dict.fromkeys(("/".join(str(x) for x in e.absolute_path) or "document", wanted(e)) for e in errors)
    return list(found) or _unsound(document)


def _unsound(d: dict[str, Any]) -> list[tuple[str, str]]:
    found = []
    try:
        date.fromisoformat(d["date"])
    except ValueError:
        found.append(("date", "there is no such day: write it as 2026-05-12"))
    keys = {c["key"]: c for c in d["components"]}
    if len(keys) != len(d["components"]):
        found.append(("components", "each component needs a key of its own"))
    if d["form"] != "mixed" and d.get("variants"):
        found.append(("variants", "only parts to mix have a ratio"))
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
    told = [d["film"][name] for name in ("min_um", "typical_um", "max_um") if name in d["film"]]
    if told != sorted(told):
        yield "film", "min, typical and max must rise"
    if "coverage_m2_l" in d and d["coverage_m2_l"] != sorted(d["coverage_m2_l"]):
        yield "coverage_m2_l", "least and most must rise"
    for key, c in keys.items():
        if c["role"] in {"base", "ready"} and c.get("solids_pct") == 0:
            yield (
                f"components/{key}/solids_pct",
                "solids by volume must be above 0 % where the product leaves film; leave it out if it is not told",
            )


def _unsound_variants(d: dict[str, Any], keys: dict[str, Any]) -> Iterator[tuple[str, str]]:
    """Ratios of parts that are not there, bands that do not rise."""
    for i, variant in enumerate(d.get("variants", [])):
        for key in variant["parts"]:
            if key not in keys:
                yield f"variants/{i}/parts/{key}", f"no such component; there are {', '.join(keys)}"
        if "temp_c" in variant and variant["temp_c"][0] >= variant["temp_c"][1]:
            yield f"variants/{i}/temp_c", "the band must rise"


def _unsound_tables(d: dict[str, Any]) -> Iterator[tuple[str, str]]:
    """Tables of time that cannot be."""
    tables = [(f"times/{k}", t) for k, t in d.get("times", {}).items()]
    tables += [(name, d[name]) for name in ("induction", "pot_life") if d.get(name)]
    tables += [told for i, window in enumerate(d.get("windows", [])) for told in _ends(i, window)]
    troubles = [(path, trouble) for path, table in tables if (trouble := _trouble_of(table))]
    yield from troubles
    if not troubles:
        for i, window in enumerate(d.get("windows", [])):
            yield from _unsound_window(i, window)


def _stretches(i: int, window: dict[str, Any]) -> list[tuple[str, dict[str, Any]]]:
    """(path, stretch) of each stretch of a window, in order."""
    again = window.get("again", ())
    return [(f"windows/{i}", window), *((f"windows/{i}/again/{n}", stretch) for n, stretch in enumerate(again))]


def _ends(i: int, window: dict[str, Any]) -> Iterator[tuple[str, Any]]:
    """(path, table) of each end of a window's stretches that is told."""
    for path, stretch in _stretches(i, window):
        for end in ("opens", "closes"):
            if stretch.get(end) not in (None, UNKNOWN):
                yield f"{path}/{end}", stretch[end]


def _trouble_of(document: Any) -> str:
    """What is wrong with a table of times, "" if nothing is."""
    try:
        table = table_of(document, "min")
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
    closed: Closes = None
    for path, stretch in _stretches(i, window):
        opens = _opens(stretch["opens"])
        if path != f"windows/{i}" and not isinstance(closed, TimeTable):
            yield path, "follows a stretch that never closes: say when that one closes"
            return
        if isinstance(closed, TimeTable) and isinstance(opens, TimeTable) and _always_before(opens, closed):
            yield f"{path}/opens", "opens before the stretch before it closes, at every temperature"
        closed = _closes(stretch.get("closes"))
        if isinstance(closed, TimeTable) and isinstance(opens, TimeTable) and _always_before(closed, opens):
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
    low_c, high_c = v.get("temp_c", (None, None))
    band = Band(v["key"], low_c, high_c, tuple(v.get("methods", ())))
    return Variant(v["key"], v["name"], v["by"], tuple(v["parts"].items()), band)


def _window(w: dict[str, Any]) -> Window:
    (opens, closes), *again = [(_opens(s["opens"]), _closes(s.get("closes"))) for s in (w, *w.get("again", ()))]
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
        "hides": (d["hides"]["contrast_pct"], d["hides"]["at_um"]) if "hides" in d else None,
        "coverage_m2_l": tuple(d["coverage_m2_l"]) if "coverage_m2_l" in d else None,
        "no_induction": "induction" in d and d["induction"] is None,
        "assumed": frozenset(d.get("assumed", ())),
        "schedules": tuple(Schedule(**row) for row in d.get("schedules", ())),
        "tins": tuple(Tin(row["component"], row["ml"], row.get("price")) for row in d.get("tins", ())),
    }


def read(document: Any) -> Sheet:
    """A validated sheet from a document (parsed JSON or YAML). Raises SheetError naming each field."""
    problems = problems_of(document)
    if problems:
        raise SheetError(problems)
    d = document
    components = tuple(
        Part(
            c["key"],
            c["name"],
            1.0,
            c.get("density_g_ml"),
            c.get("solids_pct"),
            c["role"],
            c.get("voc_g_l"),
            c.get("water_g_l"),
        )
        for c in d["components"]
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
        induction=table_of(d["induction"], "min") if d.get("induction") else None,
        pot_life=table_of(d["pot_life"], "max") if "pot_life" in d else None,
        film=FilmRange(**d["film"]) if "film" in d else None,
        methods=tuple(d.get("methods", ())),
        times={k: table_of(t, "min", f"times/{k}" in d.get("assumed", ())) for k, t in d.get("times", {}).items()},
        windows=tuple(_window(w) for w in d.get("windows", [])),
        limits=_limits(d.get("limits", {})),
        substrates=tuple(d.get("substrates", ())),
        shelf_closed_months=d.get("shelf", {}).get("closed_months"),
        shelf_opened_months=d.get("shelf", {}).get("opened_months"),
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
