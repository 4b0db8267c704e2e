"""A face told in a few words, for rows of cases: what lies on it, what was found, what is to be done."""

import copy
import functools
from dataclasses import replace
from datetime import date

from emplastra.core.air import journey as air
from emplastra.core.air.sun import Outdoors
from emplastra.core.metal.strip import is_by_hand
from emplastra.core.product import sheet as sheets
from emplastra.core.product.film import Film
from emplastra.core.rules.face import (
    Act,
    Beside,
    ColourFact,
    Face,
    FindingFact,
    PartFact,
    PotTimes,
    SpotFact,
    Tense,
    TinFact,
)
from emplastra.core.rules.judge import judge
from emplastra.core.surface import events
from emplastra.core.surface.clocks import Setting, with_clocks
from emplastra.core.surface.fit import blushed, fit_of
from emplastra.core.surface.fold import Toward, build
from emplastra.core.surface.masks import COVERS, Open
from emplastra.core.surface.names import StepKind
from emplastra.core.surface.steps import STEPS
from emplastra.core.survey.answers import Answer
from emplastra.core.working import Basis
from tests.core.test_fit import straight

H = 3600.0
LOOKED = {"holes": "none", "pits": "none", "thin": "full", "wax": "no", "salts": "none", "duty": "no", "rust": "none"}
"""A survey with nothing to say."""


@functools.lru_cache(maxsize=500)
def _read(kind, form, more):
    return sheets.read(document_of(kind, form, dict(_MORE[more])))


def document_of(kind, form="ready", more=None, **names):
    """The document of such a sheet."""
    document = _document(kind, form) | copy.deepcopy(more or {}) | names
    return {name: value for name, value in document.items() if value is not None}


_MORE = {}


def _document(kind, form):
    role = "base" if form == "mixed" else "ready"
    made = {
        "format": "emplastra-sheet/1", "product": f"Test {kind}", "kind": kind, "form": form, "source": "this test", "date": "2026-01-01",
        "components": [{"key": "a", "name": "A", "role": role, "density_g_ml": 1.2, "solids_pct": 50}],
        "film": {"min_um": 5, "typical_um": 50, "max_um": 300, "coats": 1},
        "windows": [{"next": "any", "opens": [[-20, 60], [60, 60]], "closes": [[-20, 10080], [60, 10080]], "remedy": {"grit": "P240"}}],
        "times": {"flash": [[-20, 10], [60, 10]], "cure": [[-20, 600], [60, 600]], "sandable": [[-20, 120], [60, 120]]},
    }  # fmt: skip
    if form == "mixed":
        made["components"].append({"key": "b", "name": "B", "role": "hardener", "density_g_ml": 1.0, "solids_pct": 50})
        made["variants"] = [{"key": "v", "name": "v", "by": "volume", "parts": {"a": 4, "b": 1}, "temp_c": [-20, 60]}]
    return made


def sheet_of(kind, form="ready", **more):
    """A sheet of a kind: 50 µm a coat, open for anything from 1 h to 7 days after it, cured in 10 h."""
    key = repr(sorted(more.items()))
    _MORE[key] = tuple(more.items())
    return _read(kind, form, key)


def event_of(hour, what, *rest, n=0):
    """An event from a row: [hours from the act, what, ...]."""
    t = hour * H
    share = next((x for x in rest if isinstance(x, float)), 1.0)
    words = [x for x in rest if isinstance(x, str)]
    more = next((dict(x) for x in rest if isinstance(x, dict)), {})
    at = (t - 60 * more.pop("min", 1), t, share, more.pop("step", ""), n)
    word = words[0] if words else ""
    if what == "bared":
        return events.Bared(*at, how=word, by_hand=is_by_hand(word))
    if what == "keyed":
        return events.Keyed(*at, grit=word, um_off=more.get("um", 0.0), by_hand="by hand" in words)
    if what == "coat":
        um, product = more.pop("um", 50.0), more.pop("product", f"Test {word}")
        return events.Coated(*at, sheet=sheet_of(word, **more), film=Film(um, Basis.MEASURED, ""), product=product)
    if what == "gauged":
        return events.Gauged(*at, more["mean"], more["least"], 12)
    if what == "acid":
        sheet = sheet_of("acid-prep", film=None, windows=None, times={"contact": [[-20, 30], [60, 30]]}, **more)
        return events.Prepped(t, t, share, "", n, product="Test acid-prep", sheet=sheet)
    made = {
        "wiped": lambda: events.Degreased(*at, product=f"Test {word}", sheet=sheet_of(word, **more) if word else None), "rinsed": lambda: events.Rinsed(*at, wet=word != "dried"), "dried": lambda: events.Dried(*at),
        "check": lambda: events.Checked(*at, check=word, passed="failed" not in words), "weld": lambda: events.FilmLost(*at), "closed": lambda: events.Access(*at, how="closed"),
        "masked": lambda: events.Masked(*at, cover=word or "tape", whole="whole" in words, bears_h=more.get("bears_h")), "unmasked": lambda: events.Unmasked(*at, glue="glue" in words),
        "trial-fit": lambda: events.Access(*at, how="trial-fit"), "back": lambda: events.Back(*at, came=word),
        "looked": lambda: events.Inspected(*at, points=tuple(p.split("=") for p in words)),
    }  # fmt: skip
    return made[what]()


def facts_of(told, mended=(), uncaused=None):
    """({(topic, mark): what is told}, what of it is trouble and not mended). uncaused: {topic: cause, "" for none} of
    what was put right without it.
    """
    known = {}
    for name, choice in (LOOKED | (told or {})).items():
        topic, _, mark = name.partition("_")
        choice, values = choice if isinstance(choice, list) else (choice, {})
        if choice:
            known[topic, mark] = FindingFact(
                topic, mark, str(choice), values, Answer(topic, mark, str(choice), values).sentence, said_s=-100 * H,
                waits="cause" if topic in (uncaused or {}) else "", cause=(uncaused or {}).get(topic, ""),
            )  # fmt: skip
    trouble = [
        f for f in known.values() if Answer(f.topic, f.mark, f.choice, dict(f.values)).trouble and f.topic not in mended
    ]
    return known, tuple(trouble)


def face_of(row, toward=None, t_s=0.0):
    """The face that a row tells, at a moment [s]."""
    told, findings = facts_of(row.get("told"), row.get("mended", ()), row.get("uncaused"))
    happened = [event_of(*each, n=n) for n, each in enumerate(row.get("done", ()), 1)]
    basis = air.ASSUMED if row.get("assumed") else air.MEASURED
    where = straight(
        *row.get("air", [[-900, 20, 40], [90, 20, 40]]), basis=basis, place="Yard" if row.get("yard") else "Shop"
    )
    substrate = row.get("substrate", "steel")
    setting = Setting(substrate, where, toward)
    bared = sum(e.share for e in happened if isinstance(e, events.Bared))
    patches = [
        SpotFact(name, share, build([event_of(*each) for each in done], t_s))
        for name, share, done in row.get("spots", ())
    ]
    return Face(
        t_s, substrate=substrate, thickness_mm=row.get("mm", 1.0), part=row.get("part", "skin"), form=row.get("form", "flat"), finish=row.get("finish", "show"),
        end_state=row.get("ends", "coated"), surface=build(happened, t_s), spots=tuple(patches), told=told, findings=findings, stripped=bared > 0.99,
        strip_due=bool(row.get("strip_due")), most_um=row.get("most_um"), unseen=row.get("unseen", 0.0),
        clocks=lambda surface: with_clocks(surface, setting), dewed=lambda a, b: bool(row.get("dew")), has_air=True,
        name=row.get("face", ""), mids=lambda: row.get("mids", {}), colour=lambda: ColourFact(*row.get("colour", ())), masked=row.get("masked", False),
        blushed=lambda layer: blushed(layer.sheet, where, 3600.0, where.at(layer.began_s).air_c, layer.began_s, layer.ended_s) or "",
        nights=lambda a, b: row.get("nights", 0), air_line=(lambda: row["air_line"]) if "air_line" in row else None,
        outdoors=bool(row.get("yard")), pending=lambda step: tuple(row.get("pending", ())),
        beside=lambda: tuple(_beside(*told) for told in row.get("beside", ())),
    ), where  # fmt: skip


def _beside(name, *words):
    """A neighbour: "waxed", "tacky", "inside", a cover over it, "base" for colour to come, why it is open ("!": for
    good).
    """
    cover = next((w for w in words if w in COVERS), "")
    why = next((w for w in words if w not in {"waxed", "tacky", "inside", "base", "other", cover}), "")
    coming = ("base", "Another colour" if "other" in words else "Test base-coat") if "base" in words else ("", "")
    spoilt = Open(why.rstrip("!"), why.endswith("!")) if why else None
    return Beside(
        name, "waxed" in words, H if "tacky" in words else None,
        open=spoilt, masked=cover, next=coming, inside="inside" in words,
    )  # fmt: skip


PLAN = {"before": ["stripe"], "after": ["base", "clear"]}
"""What a row's plan has before and after its act, where it does not say."""


def act_of(row, where=None):
    """The act that a row asks about, begun at 0 and ended after six minutes."""
    kind, *rest = row["act"]
    more = next((dict(x) for x in rest if isinstance(x, dict)), {})
    product_kind = next((x for x in rest if isinstance(x, str)), "")
    form = more.pop("form", "ready")
    mine = {
        k: more.pop(k)
        for k in (
            "share",
            "step",
            "sanded_um",
            "metal_c",
            "layer_um",
            "over_um",
            "wet_um",
            "solids_pct",
            "mixed",
            "way",
            "method",
            "reducer",
        )
        if k in more
    }
    um, began, ended = more.pop("um", 50.0), more.pop("began", 0.0) * H, more.pop("ended", 0.1) * H
    pot = PotTimes(*(h * H for h in more.pop("pot"))) if "pot" in more else None
    tins = tuple(
        TinFact("B-1", date.fromisoformat(str(a)), date.fromisoformat(str(b)), *kit)
        for a, b, *kit in more.pop("tins", ())
    )
    parts = tuple(PartFact("Base", "600 g", **{k: tuple(v) if k == "batches" else v for k, v in part.items()}) for part in more.pop("parts", ()))  # fmt: skip
    sheet = sheet_of(product_kind, form, **more) if product_kind and not row.get("no_sheet") else None
    basis = Basis.ASSUMED if row.get("planned") else Basis.MEASURED
    act = Act(
        StepKind(kind), Tense.NOW, "z", product=f"Test {product_kind}" if product_kind else "", sheet=sheet, film=Film(um, basis, "") if STEPS[kind].leaves_film else None,
        began_s=began, ended_s=ended, pot=pot, tins=tins, parts=parts, **({"over_um": um} | mine),
    )  # fmt: skip
    plan = row.get("plan", PLAN)
    act = replace(act, before=("strip", *plan.get("before", ())), after=tuple(plan.get("after", ())), later=tuple(plan.get("later", ())), in_plan=True)  # fmt: skip
    if row.get("leads"):
        limits = {"limits": row["limits"]} if "limits" in row else {}
        led = act_of({"act": ["prime", row["leads"], limits]}, where)
        return replace(act, leads_to=led, fit=led.fit)
    if sheet is None or where is None:
        return act
    metal_c = row.get("metal_c", where.at(began).air_c)
    fit = fit_of(sheet, where, 3600.0, metal_c, began, ended, Outdoors(frozenset({"Yard"})))
    return replace(act, fit=fit)


def ruling_of(row, off=frozenset()):
    """The ruling that a row earns."""
    kind = row["act"][1] if len(row["act"]) > 1 and isinstance(row["act"][1], str) else ""
    sheet_kind = kind or row.get("leads", "")
    toward = (
        Toward(f"Test {sheet_kind}", sheet_kind)
        if not STEPS[row["act"][0]].act
        else Toward("", "", STEPS[row["act"][0]].act)
    )
    began = next((x.get("began", 0.0) for x in row["act"] if isinstance(x, dict)), 0.0)
    face, where = face_of(row, toward, began * H)
    return judge(act_of(row, where), face, row.get("schools"), off)


def words_of(ruling):
    """{aspect: the gravest word} of what was said."""
    return {
        str(a).replace(" ", "-"): ruling.word_of(a)
        for a in ruling.concerned
        if any(v.aspect == a for v in ruling.verdicts)
    }


def coat_said(sheet, before, began_s, ended_s, where, off=frozenset(), substrate="laminate", **more):
    """{rule: verdict} of a coat of a sheet over what lies there; nothing but the coat itself can be wrong.

    before: events; more: of the Act. On laminate no bare time runs.
    """
    setting = Setting(substrate, where, Toward(sheet.product, sheet.kind))
    face = Face(
        began_s, substrate=substrate, surface=build(before, began_s), stripped=True, told=facts_of({})[0],
        clocks=lambda surface: with_clocks(surface, setting),
    )  # fmt: skip
    act = Act("prime", Tense.NOW, "z", product=sheet.product, sheet=sheet, began_s=began_s, ended_s=ended_s, **{"film": Film(50.0, Basis.MEASURED, ""), **more})  # fmt: skip
    return {v.rule: v for v in judge(act, face, off=off).verdicts}
