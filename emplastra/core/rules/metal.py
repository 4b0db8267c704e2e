"""Rules about the metal of a zone: what was seen, what was done to it, what comes next on it.

Where no source is named: common practice, no source.
"""

from collections.abc import Iterator, Mapping

from ..metal.known import Metal
from ..product.kinds import ProductKind
from ..surface.names import StepKind
from ..survey.inspection import POINTS
from .registry import SEVERITIES, Said, Verdict, gravest_first, judge, not_judged, rule

PORTIONS_APART_H = 12.0
"""Portions bared this far apart [h] are looked at apart."""


def verdicts(
    metal: Metal, about: str, schools: Mapping[str, str] | None = None, off: frozenset[str] = frozenset()
) -> list[Verdict]:
    """Everything that is to be said of a zone's metal, its pairs included."""
    found = judge("zone", metal, about, schools, off)
    over = metal.next_product or metal.next_step
    if over in JUDGED_OVER and not metal.duty:
        for under in metal.under:
            pair = judge("pair", (under, over, metal.under[under]), f"{about}/{under}", schools, off)
            found += pair or [
                not_judged(f"{over.replace('-', ' ')} over {UNDER_WORDS.get(under, under)}", f"{about}/{under}")
            ]
    return gravest_first(found)


@rule(
    "burnished",
    "zone",
    "stops",
    "Wire-wheeled metal is keyed before it is coated",
    school=("burnish", "key-first"),
    fix="key",
)
def _burnished(m: Metal) -> Iterator[Said]:
    if m.stripped_by == "wire-wheel" and m.bare and not m.keyed and m.is_coat_next:
        yield Said(
            "A wire wheel polishes: key it by hand (P120), degrease, then coat.",
            {"by": m.stripped_by, "next": m.next_product},
        )


@rule(
    "wheel-needs-prep",
    "zone",
    "warns",
    "Wire-wheeled metal wants pad and acid prep",
    school=("burnish", "wheel-keys"),
    fix="key",
)
def _wheel_needs_prep(m: Metal) -> Iterator[Said]:
    if m.stripped_by == "wire-wheel" and m.bare and not (m.keyed or m.acid_prepped) and m.is_coat_next:
        yield Said(
            "Wire-wheeled: a non-woven pad and acid prep count as its key; neither is logged.", {"next": m.next_product}
        )


@rule(
    "bare-overdue",
    "zone",
    "stops",
    "Metal bare past its limit",
    "ours: 24, 6, 3, 1 h at 40, 60, 75, 85 %",
    fix="abrade-wipe",
)
def _bare_overdue(m: Metal) -> Iterator[Said]:
    if m.bare_overdue_h is None or m.bare_overdue_h <= 0 or m.end_state != "coated":
        return
    used = {"no_flash_rust": m.no_flash_rust}
    late = f"Bare past its limit by {m.bare_overdue_h:.0f} h"
    if m.no_flash_rust:
        yield Said(f"{late}; no flash rust was seen: abrade it lightly, wipe it, coat it today.", used, "warns")
    else:
        yield Said(f"{late}: abrade it again, wipe it, coat it at once.", used)


@rule("portions", "zone", "warns", "One end bare for longer than the other", fix="abrade-oldest")
def _portions(m: Metal) -> Iterator[Said]:
    if len(m.bare) < 2 or m.end_state != "coated":
        return
    hours = sorted(h for h, _ in m.bare)
    oldest = max(m.bare)
    if hours[-1] - hours[0] >= PORTIONS_APART_H:
        yield Said(
            f"{oldest[1]:.0%} of it has been bare for {hours[-1]:.0f} h, the rest for {hours[0]:.0f} h: prime "
            f"in sections, or abrade the oldest again.",
            {"portions": [round(share, 3) for _, share in sorted(m.bare)]},
        )


@rule("inspection", "zone", "stops", "A part under load that has changed shape: qualified inspection")
def _inspection(m: Metal) -> Iterator[Said]:
    if m.duty and m.shape_changed:
        word = {"load": "Load-carrying", "brake": "A brake part", "pressure": "Under pressure"}[m.duty]
        yield Said(f"{word}, and its shape has changed: qualified inspection. No coating verdict.", {"duty": m.duty})


@rule("soundness-first", "zone", "warns", "A part under load: soundness first")
def _soundness(m: Metal) -> Iterator[Said]:
    if m.duty and not m.shape_changed and m.part not in {"tube"}:
        yield Said(
            "Soundness comes before any coat: qualified inspection of load-carrying, brake and pressure parts.",
            {"duty": m.duty},
        )


@rule("watch-pipe", "zone", "advises", "A sound pipe is treated and watched", school=("pipe", "watch"), fix="watch")
def _watch_pipe(m: Metal) -> Iterator[Said]:
    rusty = m.choice("rust") in {"B", "C", "D"}
    if (
        m.duty in {"brake", "pressure"}
        and m.part == "tube"
        and rusty
        and not m.shape_changed
        and m.end_state != "watched"
    ):
        yield Said(
            "Surface rust only: treat it, leave it unpainted so that its decay can be seen, and set a day for "
            "the next look.",
            {"rust": m.choice("rust")},
        )


@rule("under-dirt", "zone", "stops", "Nothing is judged under dirt")
def _under_dirt(m: Metal) -> Iterator[Said]:
    if m.choice("uncovered") == "dirt":
        yield Said("Dirt is packed in: empty it, wash it, look again before any treatment.", {})


@rule(
    "salts",
    "zone",
    "stops",
    "Salts are washed off before any treatment",
    "ISO 8502-6, -9, from memory; limit common practice",
)
def _salts(m: Metal) -> Iterator[Said]:
    found = m.answers.get(("salts", ""))
    if found is None or ("salts", "") not in m.open_findings:
        return
    if found.choice == "suspected":
        yield Said("Salt is near and nothing was tested: wash it, then test.", {"salts": "suspected"}, "warns")
    elif found.trouble:
        yield Said(f"{found.sentence}: wash it again and test again.", {"salts": dict(found.values)})


@rule("wax", "zone", "stops", "Wax is off before metal is coated")
def _wax(m: Metal) -> Iterator[Said]:
    if m.choice("wax") == "smears" and ("wax", "") in m.open_findings:
        if m.next_step in {StepKind.WELD, StepKind.SOLDER}:
            yield Said("Wax burns and runs into the weld: take it off and keep a fire watch.", {"next": m.next_step})
        elif m.is_coat_next or m.next_step in {StepKind.ACID_PREP, StepKind.ABRADE}:
            yield Said("It smears: wax. Off with solvent before anything else touches it.", {"next": m.next_step})


@rule("heat-near", "zone", "stops", "Fuel, glass, wiring and trim near heat")
def _heat_near(m: Metal) -> Iterator[Said]:
    near = set(m.choice("near").split("+")) & {"fuel", "wiring", "trim", "glass"}
    if near and m.next_step in {StepKind.WELD, StepKind.SOLDER}:
        grave = "stops" if "fuel" in near else "warns"
        yield Said(
            f"Heat near {', '.join(sorted(near))}: out or shielded first.",
            {"near": sorted(near), "next": m.next_step},
            grave,
        )


@rule("cause-goes-on", "zone", "warns", "Rust whose cause goes on comes back")
def _cause(m: Metal) -> Iterator[Said]:
    open_drains = [
        a.mark for a in m.rows("drain") if a.choice in {"blocked", "missing"} and ("drain", a.mark) in m.open_findings
    ]
    if open_drains and (m.is_coat_next or m.next_step == StepKind.CLOSE):
        yield Said(
            f"Drain {', '.join(open_drains)} is blocked or missing: it feeds the next cavity. Mend the cause "
            f"with the metal.",
            {"drains": open_drains},
        )


@rule("pinholes", "zone", "stops", "Pinholes in a ground weld")
def _pinholes(m: Metal) -> Iterator[Said]:
    if m.choice("holes") != "pinholes" or ("holes", "") not in m.open_findings or not (m.welded or m.stripped_by):
        return
    if m.closed or m.boxed:
        said = (
            "Pinholes in a closed section: those that go through are welded or brazed shut, blind ones are "
            "skimmed. Look against the light, or with air from inside."
        )
    else:
        said = (
            "Pinholes: those that go through are welded or brazed shut, blind ones skimmed; filler does not "
            "bridge a hole."
        )
    yield Said(said, {"closed": m.closed or m.boxed})


@rule("weld-unseen", "zone", "warns", "A weld is looked through before it is coated")
def _weld_unseen(m: Metal) -> Iterator[Said]:
    if m.weld_unseen and m.is_covered_next:
        yield Said(
            "Welded, and nobody has looked through it since: all round, burrs, pinholes against the light, the "
            "far side.",
            {"next": m.next_step},
        )


@rule("weld-faults", "zone", "stops", "Faults of a weld are mended before it is coated")
def _weld_faults(m: Metal) -> Iterator[Said]:
    if not m.is_covered_next:
        return
    for severity in SEVERITIES:
        found = [key for key in m.weld_faults if POINTS[key].severity == severity]
        if found:
            said = "; ".join(f"{POINTS[key].name.lower()}, {POINTS[key].fault}: {POINTS[key].remedy}" for key in found)
            yield Said(f"{said[:1].upper()}{said[1:]}.", {"faults": found}, severity)


@rule("holes", "zone", "stops", "Holes are closed with metal")
def _holes(m: Metal) -> Iterator[Said]:
    if (
        m.choice("holes") == "holes"
        and ("holes", "") in m.open_findings
        and (m.is_coat_next or m.next_step == StepKind.FILL)
    ):
        yield Said("Holes: weld, braze or patch. Filler and paint do not bridge them.", {"next": m.next_step})


@rule("filler-on-bare", "zone", "warns", "Filler goes over epoxy", school=("filler", "over-epoxy"))
def _filler_on_bare(m: Metal) -> Iterator[Said]:
    if m.next_product in {ProductKind.BODY_FILLER, ProductKind.FIBRE_FILLER} and m.bare and not m.coated:
        yield Said("In this school filler goes over epoxy: prime first, then fill.", {"next": m.next_product})


@rule("crazed", "zone", "stops", "Crazed lacquer comes off to the metal")
def _crazed(m: Metal) -> Iterator[Said]:
    if (
        any(a.choice == "crazed" and ("layer", a.mark) in m.open_findings for a in m.rows("layer"))
        and m.is_coat_next
        and not m.stripped
    ):
        yield Said("Crazed one-pack under it: its cracks come back through anything above. Strip to the metal.", {})


@rule("bleeding", "zone", "warns", "A bleeding colour is isolated")
def _bleeding(m: Metal) -> Iterator[Said]:
    if (
        not m.stripped
        and any(a.choice == "bleeding" and ("layer", a.mark) in m.open_findings for a in m.rows("layer"))
        and m.is_coat_next
        and m.next_product not in {ProductKind.EPOXY_PRIMER, ProductKind.EPOXY_MASTIC}
    ):
        yield Said("A bleeding colour lies under it: isolate it with epoxy first.", {"next": m.next_product})


@rule("trial-fit", "zone", "warns", "A trial fit must come off again", fix="take-off")
def _trial_fit(m: Metal) -> Iterator[Said]:
    if m.trial_fit:
        raw = bool(m.bare) or not m.under or "bare" in m.under
        yield Said(
            "Hung on raw for its gaps: a trial fit. It must come off, be coated behind, and go on once."
            if raw
            else "On a trial fit: it must come off again.",
            {"raw": raw},
            "stops" if m.next_step == StepKind.CLOSE or (raw and m.next_step == StepKind.FILL) else "",
        )


@rule("not-seen", "zone", "advises", "Not seen is not sound")
def _not_seen(m: Metal) -> Iterator[Said]:
    if m.unseen_share > 0.05 and (m.is_coat_next or m.next_step == StepKind.CLOSE):
        yield Said(
            f"{m.unseen_share:.0%} of it was never seen: not seen is not sound.", {"share": round(m.unseen_share, 2)}
        )


@rule("hidden-bare", "zone", "stops", "A face out of reach is coated before it is closed")
def _hidden(m: Metal) -> Iterator[Said]:
    if m.next_step == StepKind.CLOSE and m.end_state == "coated" and (m.bare or m.under.get("bare", 0.0) > 0.001):
        yield Said("Bare, and about to be out of reach: coat it first, or record that it stays bare.", {"bare": True})


@rule("burnt", "zone", "stops", "Film burnt off by a weld")
def _burnt(m: Metal) -> Iterator[Said]:
    if m.welded and m.bare and (m.coated or m.under.keys() - {"bare"}):
        share = sum(s for _, s in m.bare)
        yield Said(
            f"A weld took the film off {share:.0%} of this face: prime that strip again while it can be reached.",
            {"share": round(share, 3)},
        )


@rule("laminate-soft", "zone", "advises", "Raw laminate is tender")
def _laminate(m: Metal) -> Iterator[Said]:
    if m.substrate == "laminate" and m.next_step == StepKind.STRIP:
        yield Said(
            "Laminate: a test patch first; stop when strands show. Stripper soaks in.", {"substrate": m.substrate}
        )


UNDER_WORDS = {
    "bare": "bare metal",
    "old film": "the ring of old film",
    ProductKind.WASH_PRIMER: "wash primer",
    "temporary": "a temporary primer",
    ProductKind.CONVERTER: "converted rust",
    "laminate": "laminate",
}
JUDGED_OVER = {
    ProductKind.ACID_PREP,
    ProductKind.EPOXY_PRIMER,
    ProductKind.EPOXY_MASTIC,
    ProductKind.WASH_PRIMER,
    ProductKind.CONVERTER,
    ProductKind.CONVERTING_PRIMER,
    ProductKind.BODY_FILLER,
    ProductKind.ZINC_RICH_PRIMER,
    ProductKind.WELD_THROUGH_PRIMER,
    ProductKind.ONE_K_PRIMER,
    ProductKind.TWO_PACK_SURFACER,
    ProductKind.SEAM_SEALER,
}
"""Acts and kinds whose first contact with the metal is judged."""
_CLEAN = "clean"
PAIRS: dict[tuple[str, str], tuple[str, str]] = {
    ("bare", ProductKind.ACID_PREP): (_CLEAN, "goes on bare metal"),
    ("old film", ProductKind.ACID_PREP): ("warns", "lifts the edge of old film: keep it to the bare spots and rinse the ring well"),
    (ProductKind.WASH_PRIMER, ProductKind.ACID_PREP): ("stops", "eats wash primer: prime the patch, or strip it to metal first"),
    ("temporary", ProductKind.ACID_PREP): ("stops", "does not go on a temporary primer: take that off first"),
    ("bare", ProductKind.EPOXY_PRIMER): (_CLEAN, "goes on keyed bare metal"),
    ("bare", ProductKind.EPOXY_MASTIC): (_CLEAN, "goes on tight rust and keyed metal"),
    ("bare", ProductKind.WASH_PRIMER): (_CLEAN, "goes on bare metal, thin"),
    ("bare", ProductKind.CONVERTER): (_CLEAN, "wants rust to work on"),
    ("bare", ProductKind.CONVERTING_PRIMER): (_CLEAN, "wants tight rust"),
    ("bare", ProductKind.BODY_FILLER): ("advises", "goes on abraded metal in one school, over epoxy in the other"),
    ("bare", ProductKind.ZINC_RICH_PRIMER): (_CLEAN, "wants blasted bare steel"),
    ("bare", ProductKind.WELD_THROUGH_PRIMER): (_CLEAN, "goes on the faces of a lap"),
    ("bare", ProductKind.ONE_K_PRIMER): (_CLEAN, "goes on bare metal"),
    ("bare", ProductKind.TWO_PACK_SURFACER): ("warns", "has no hold on bare metal by itself: epoxy or wash primer first"),
    ("bare", ProductKind.SEAM_SEALER): ("warns", "goes over primer, not on bare metal"),
    ("old film", ProductKind.EPOXY_PRIMER): ("advises", "goes on sound, feathered, keyed old film"),
    ("old film", ProductKind.EPOXY_MASTIC): ("advises", "goes on sound, feathered, keyed old film"),
    ("old film", ProductKind.WASH_PRIMER): ("warns", "can lift old film at the ring"),
    ("old film", ProductKind.CONVERTER): ("stops", "does nothing on paint: bare rust only"),
    ("old film", ProductKind.ONE_K_PRIMER): ("warns", "its solvent can lift the ring of old film"),
    (ProductKind.WASH_PRIMER, ProductKind.EPOXY_PRIMER): ("stops", "goes on no wash primer unless its sheet says so: the acid holds back its cure"),
    (ProductKind.WASH_PRIMER, ProductKind.EPOXY_MASTIC): ("stops", "goes on no wash primer unless its sheet says so: the acid holds back its cure"),
    (ProductKind.WASH_PRIMER, ProductKind.TWO_PACK_SURFACER): (_CLEAN, "goes on wash primer within its window"),
    (ProductKind.WASH_PRIMER, ProductKind.BODY_FILLER): ("stops", "has no hold on wash primer"),
    (ProductKind.CONVERTER, ProductKind.EPOXY_MASTIC): (_CLEAN, "goes on converted rust once it has waited"),
    (ProductKind.CONVERTER, ProductKind.EPOXY_PRIMER): ("advises", "goes on converted rust after 24 to 36 h, in one school"),
    ("temporary", ProductKind.EPOXY_PRIMER): ("warns", "over a temporary primer of unknown kind: test a patch with solvent, or take it off"),
    ("temporary", ProductKind.EPOXY_MASTIC): ("warns", "over a temporary primer of unknown kind: test a patch with solvent, or take it off"),
    ("laminate", ProductKind.EPOXY_PRIMER): (_CLEAN, "goes on keyed laminate"),
    ("laminate", ProductKind.TWO_PACK_SURFACER): (_CLEAN, "goes on keyed laminate"),
    ("laminate", ProductKind.ACID_PREP): ("stops", "has nothing to do on laminate and soaks in"),
}  # fmt: skip
"""(what lies there, what comes over it) -> (severity or clean, words). Common practice, no source: the sheet comes
first.
"""


@rule("over-what", "pair", "warns", "What comes next, on each thing that lies there")
def _over_what(pair: tuple[str, str, float]) -> Iterator[Said]:
    under, over, share = pair
    known = PAIRS.get((under, over))
    if known is None:
        return
    severity, words = known
    used = {"under": under, "over": over}
    subject = over.replace("-", " ").capitalize()
    where = UNDER_WORDS.get(under, under)
    if severity == _CLEAN:
        yield Said(f"On {where} ({share:.0%}): {subject} {words}.", used, "advises")
    else:
        yield Said(f"On {where} ({share:.0%}): {subject} {words}.", used, severity)
