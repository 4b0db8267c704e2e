"""What a survey asks of a zone: its questions with their choices and figures.

Names and grades of ISO 8501-1, ISO 8502-3, -6 and -9 and ISO 4628-2 are from memory. The rest of the
topics and where trouble begins: common practice, no source.
"""

from dataclasses import dataclass

from ..words import length_q

PASSES = {"found": "As found", "bared": "As bared"}
STAGES = PASSES | {"coated": "As coated"}
"""When a finding may be stated: the passes of a survey, and what a coat shows once it is on."""
AS_THEY_COME = frozenset({"more", "film"})
"""Topics that no pass asks: they are told when they are seen."""
EVIDENCE = {
    "bare": "Bare metal",
    "paint": "Through paint",
    "mirror": "By mirror",
    "felt": "Felt",
    "tapped": "Tapped",
    "other-side": "From the other side",
    "not-seen": "Not seen",
}
RUST_GRADES = {
    "A": "largely covered with adhering mill scale, little if any rust",
    "B": "begun to rust, mill scale begun to flake",
    "C": "mill scale rusted away or can be scraped off, slight pitting visible",
    "D": "mill scale rusted away, general pitting visible",
}
"""ISO 8501-1 rust grades. From memory."""
DENSITY = {"0": "none", "1": "very few", "2": "few", "3": "moderate", "4": "considerable", "5": "dense"}
"""ISO 4628 quantity of defects, used by -2 for blisters. From memory."""
SIZES = {
    1: "seen at 10 x only",
    2: "just seen by eye",
    3: f"clearly seen, up to {length_q(0.5)}",
    4: length_q(0.5, 5, joined=" to "),
    5: f"over {length_q(5)}",
}
"""ISO 4628 size of defects. From memory."""
DUST = {"0": "no dust seen", "1": "rating 1", "2": "rating 2", "3": "rating 3", "4": "rating 4", "5": "rating 5"}
"""ISO 8502-3 quantity rating by pressure-sensitive tape, 5 the most. From memory."""
SALTS_MG_M2 = 50.0
"""Salts above which washing again is the usual advice [mg/m2]. Common practice, no source: the sheet rules."""
DUST_LIMIT = 2
"""Dust rating above which cleaning again is the usual advice. Common practice, no source."""


@dataclass(frozen=True)
class Choice:
    """An answer by one tap: its word, whether it is trouble that needs an answer, what to do now."""

    key: str
    word: str
    trouble: bool = False
    hint: str = ""
    more: bool = False


@dataclass(frozen=True)
class Number:
    """A figure beside a choice. dimension: "length" [mm], "" for a plain number in `unit`."""

    key: str
    label: str
    dimension: str = ""
    unit: str = ""
    low: float = 0.0
    high: float = 10_000.0
    needed: bool = False

    def said(self, *values: float) -> str:
        """Values of it in words, with their unit."""
        if self.dimension == "length":
            return length_q(*values, joined=" to ")
        told = " to ".join(f"{value:g}" for value in values)
        return f"{told} {self.unit}" if self.unit else told


@dataclass(frozen=True)
class Topic:
    """One question of the survey.

    rows: how many may be answered side by side (old layers in order, drains by number); several:
    more than one choice may be ticked; graded: not to be answered under dirt; felt: but by hand; wants_cause: trouble
    here has a cause that has to be mended; text: label of free words, "" for none; only: the substrates that it is
    asked of, none for all; never: those that it is not.
    """

    key: str
    group: str
    question: str
    choices: tuple[Choice, ...]
    numbers: tuple[Number, ...] = ()
    rows: int = 1
    several: bool = False
    graded: bool = False
    wants_cause: bool = False
    text: str = ""
    help: str = ""
    felt: bool = False
    only: frozenset[str] = frozenset()
    never: frozenset[str] = frozenset()

    def is_asked_of(self, substrate: str) -> bool:
        """True if the question makes sense of a zone of this substrate."""
        return substrate not in self.never and (not self.only or substrate in self.only)

    def choice(self, key: str) -> Choice | None:
        """The choice of this key."""
        return next((c for c in self.choices if c.key == key), None)


LAMINATE = frozenset({"laminate"})
NO_RUST = frozenset({"laminate", "aluminium", "zinc", "stainless"})
"""Substrates of which no rust grade is asked: ISO 8501-1 is of steel."""
GROUPS = {
    "look": "Look",
    "metal": "Metal",
    "joints": "Joints",
    "layers": "Old layers",
    "clean": "Wax, salts, dust",
    "water": "Water",
    "marks": "Marks",
    "around": "Around it",
}


def _mm(key: str, label: str, high: float = 500.0, needed: bool = False, low: float = 0.0) -> Number:
    return Number(key, label, "length", "mm", low, high, needed)


_TOPICS = (
    Topic(
        "uncovered", "look", "Uncovered and washed?",
        (
            Choice("yes", "Yes, clean"),
            Choice("dirt", "Dirt packed in", True, "Empty it, wash it, look again: mud keeps metal wet for days."),
            Choice("out-of-reach", "Out of reach", True, "Not seen is not sound: say what has to come off first."),
        ),
        help="Nothing is graded under dirt.",
    ),
    Topic(
        "looked", "look", "How much of it have you seen?",
        (
            Choice("bare", "All of it, bare"),
            Choice("paint", "All of it, through paint"),
            Choice("part", "Part of it", more=True),
            Choice("none", "None of it"),
        ),
        (
            Number("bare_pct", "bare or by mirror", "", "%", 0, 100),
            Number("paint_pct", "through paint, felt, tapped", "", "%", 0, 100),
        ),
    ),
    Topic(
        "duty", "look", "Does something hang on it?",
        (
            Choice("no", "No"),
            Choice("load", "Load-carrying", False, "Soundness first: qualified inspection. No coating verdict."),
            Choice("brake", "Brake", False, "Soundness first: qualified inspection. No coating verdict."),
            Choice("pressure", "Pressure", False, "Soundness first: qualified inspection. No coating verdict."),
        ),
    ),
    Topic(
        "substrate", "metal", "Metal as measured?",
        (Choice("as-planned", "As its measures say"), Choice("other", "Another metal", True, "Correct the zone’s measures.")),
        text="which",
    ),
    Topic(
        "rust", "metal", "Rust grade",
        (
            Choice("none", "No rust"),
            *(Choice(k, f"{k}: {v}", k in "CD") for k, v in RUST_GRADES.items()),
        ),
        graded=True, wants_cause=True, help="ISO 8501-1, from memory; graded on clean metal only.", never=NO_RUST,
    ),
    Topic(
        "white", "metal", "White corrosion",
        (
            Choice("none", "None"),
            Choice("spots", "Spots or worms under the film", True, "To bright metal by hand: what is left goes on under any coat."),
            Choice("powder", "White powder, pitted", True, "To bright metal, then measure what is left."),
        ),
        graded=True, wants_cause=True, only=frozenset({"aluminium", "zinc"}),
    ),
    Topic(
        "laminate", "metal", "Laminate",
        (
            Choice("none", "Gel coat sound"),
            Choice("crazed", "Gel coat crazed", True, "Its cracks come back through: out to sound laminate, then repair."),
            Choice("osmosis", "Blisters that weep: osmosis", True, "Open them, wash, let it dry for weeks; measure before it is shut in."),
            Choice("delaminated", "Rings dull: layers apart", True, "Cut back to where it rings again, and lay it up anew."),
            Choice("repair", "Old repair", True, "Tap round it: an old repair hides what is under it."),
        ), several=True, graded=True, wants_cause=True, only=frozenset({"laminate"}),
    ),
    Topic(
        "blisters", "metal", "Blisters",
        tuple(Choice(k, f"{k} {v}", k != "0", more=k != "0") for k, v in DENSITY.items()),
        (Number("size", "size, 1 to 5", "", "", 1, 5, True),),
        graded=True, wants_cause=True, help="ISO 4628-2, from memory: quantity, then size.", never=LAMINATE,
    ),
    Topic(
        "pits", "metal", "Pits",
        (Choice("none", "None"), Choice("pits", "Pits", True, more=True)),
        (_mm("depth", "deepest"),), graded=True, wants_cause=True, never=LAMINATE,
    ),
    Topic(
        "holes", "metal", "Holes",
        (Choice("none", "None"), Choice("pinholes", "Pinholes", True, more=True), Choice("holes", "Holes", True, more=True)),
        (Number("count", "how many", "", "", 1, 10_000), _mm("mm", "largest", 3000)), graded=True, wants_cause=True, felt=True,
        help="Under dirt a hole may be told that is felt by hand.",
    ),
    Topic(
        "thin", "metal", "Thickness left",
        (Choice("full", "Full, as far as probed"), Choice("thin", "Thin", True, "Cut back to where it is again full.", True)),
        (_mm("left", "thinnest left", needed=True, low=0.01),), graded=True, wants_cause=True,
    ),
    Topic(
        "filler", "joints", "Filler found",
        (Choice("none", "None found"), Choice("filler", "Filler", True, "Old filler hides what is under it: out with it.", True),
         Choice("taped", "A hole taped over and filled", True, "Filler does not bridge holes.", True)),
        (_mm("depth", "deepest"),),
    ),
    Topic(
        "solder", "joints", "Solder",
        (Choice("none", "None found"), Choice("seam", "Loaded seam", True, "Lead: no dry grinding; mask, clean hands, closed waste."),
         Choice("suspected", "Suspected", True, "Test before it is heated or ground.")),
        never=frozenset({"laminate", "aluminium"}),
    ),
    Topic(
        "joints", "joints", "How is it joined?",
        (
            Choice("none", "No joint in it"),
            Choice("laps", "Laps"),
            Choice("rivets", "Rivets"),
            Choice("pack", "Pack rust between", True, "It lifts the joint: open it, or clean and seal what can be reached."),
            Choice("other-metal", "Rivets or bolts of another metal", True, "Two metals in touch: isolate them before it is fitted."),
        ), several=True, wants_cause=True,
    ),
    Topic(
        "seams", "joints", "Seams",
        (Choice("sound", "Sound"), Choice("open", "Open", True), Choice("cracked", "Sealer cracked", True),
         Choice("bridged", "Bridged with filler", True), Choice("under", "Under-filled", True, "Top it up, tooled to the pattern that is recorded.")),
        wants_cause=True,
    ),
    Topic(
        "layer", "layers", "Old layers, the outermost first",
        (
            Choice("none", "No paint on it"),
            Choice("crazed", "Crazed or old one-pack lacquer", True, "Comes off to the metal: its cracks come back through."),
            Choice("bleeding", "Bleeding colour", True, "Isolate with epoxy; a bleeding colour goes on last."),
            Choice("temporary", "Temporary primer", True, "Say of what kind: it may have to come off."),
            Choice("powder", "Powder"),
            Choice("factory", "Sound factory finish"),
            Choice("two-pack", "Sound two-pack"),
            Choice("oil", "Oil or alkyd paint", False, "Soft under strong solvent: a rub test before anything two-pack."),
            Choice("lacquer", "Cellulose lacquer", False, "Soft under any solvent: a rub test before anything two-pack."),
            Choice("red-lead", "Red lead", True, "Lead: no dry sanding, no torch, no open blasting."),
            Choice("chromate", "Yellow-green primer, chromate", True, "A lead kit does not find it: no dry sanding before a laboratory says no."),
            Choice("antifouling", "Antifouling", True, "Tin or copper: never sanded dry."),
            Choice("bitumen", "Bitumen", True, "It bleeds through and lifts: off with a scraper and solvent first."),
            Choice("compound", "Thick underbody compound", True, "Scrape first: media bounce off."),
            Choice("unknown", "Unknown", True, "Test a corner with solvent."),
        ), rows=6, text="colour, kind",
        help="Old paint may hold lead: test it before it is sanded dry.",
    ),
    Topic(
        "toxic", "layers", "Tested for lead, chromate, asbestos?",
        (
            Choice("none", "By a laboratory: none of them"),
            Choice("kit", "By a lead kit: no lead"),
            Choice("not-tested", "Not tested", False, "Old paint is taken to hold lead, old compound asbestos, until a test says no."),
            Choice("lead", "Lead found", False, "No dry sanding, no torch, no open blasting; waste apart."),
            Choice("chromate", "Chromate found", False, "No dry sanding, no torch, no open blasting; waste apart."),
            Choice("tin", "Tin or copper found", False, "Never sanded dry; waste apart."),
            Choice("asbestos", "Asbestos found", False, "Licensed people only: leave it alone."),
        ), several=True, text="which, by whom",
    ),
    Topic(
        "wax", "clean", "Wax, by smear",
        (Choice("no", "Does not smear"), Choice("smears", "Smears: wax", True, "Off with solvent first; wax burns near a weld.")),
    ),
    Topic(
        "salts", "clean", "Salts",
        (Choice("none", "Not tested, no need"), Choice("suspected", "Sea or road salt near", True, "Wash, then test before any treatment."),
         Choice("tested", "Tested", more=True)),
        (Number("rise", "conductivity rise", "", "µS/cm", 0, 5000, True), Number("ml", "water", "", "mL", 1, 100),
         Number("cm2", "patch", "", "cm²", 1, 200)),
        help="ISO 8502-6 patch, ISO 8502-9 by conductivity, from memory. Blank: 15 mL, 12.5 cm² (0.51 fl oz US, 1.94 sq in).",
    ),
    Topic(
        "dust", "clean", "Dust, by tape", tuple(Choice(k, v, int(k) > DUST_LIMIT) for k, v in DUST.items()),
        help="ISO 8502-3, from memory.",
    ),
    Topic(
        "drain", "water", "Drains, each by its number",
        (
            Choice("open", "Open, probed through"),
            Choice("blocked", "Probed: blocked", True, "It feeds the next cavity: follow the water."),
            Choice("closed", "Closed by a bung or plate", more=True),
            Choice("missing", "None where one should be", True),
            Choice("not-probed", "Not probed yet", True),
        ), rows=8, wants_cause=True, text="where",
        help="Each is probed before, and again after the last coat.",
    ),
    Topic(
        "marks", "marks", "Marks and textures to reproduce",
        (Choice("none", "None"), Choice("marks", "Marks or stampings", False, "Record before and while it is stripped."),
         Choice("texture", "Texture or seam shape", False, "Photograph and measure before it goes.")), several=True, text="what, where",
    ),
    Topic(
        "sample", "marks", "Sample of the first colour",
        (Choice("kept", "Found and kept"), Choice("none", "None left"), Choice("not-yet", "Not looked for yet")), text="where",
    ),
    Topic(
        "near", "around", "Fitted nearby",
        (
            Choice("nothing", "Nothing"),
            Choice("glass", "Glass", False, "No blasting while it is in."),
            Choice("engine", "Engine", False, "No blasting while it is in."),
            Choice("wiring", "Wiring", False, "Out or shielded before heat."),
            Choice("trim", "Trim", False, "No blasting while it is in."),
            Choice("lagging", "Old insulation, gaskets, linings", False, "Asbestos, until a laboratory says no: leave them alone."),
            Choice("bushes", "Bushes, rubber, bonded parts", False, "Out before heat or an oven."),
            Choice("springs", "Springs, hardened bolts", False, "No acid near them: it makes them brittle."),
            Choice("fuel", "Fuel", False, "Fire: out before any heat or spark, by those licensed for it."),
        ), several=True,
    ),
    Topic(
        "held", "around", "A tank: what did it hold?",
        (
            Choice("never", "Never fuel nor oil"),
            Choice("cleaned", "Fuel or oil: cleaned by those licensed, and said so"),
            Choice("emptied", "Fuel or oil: emptied", False, "Emptied tanks are the dangerous ones: no spark, no heat, no grinding."),
        ), text="what, cleaned by whom",
    ),
    Topic(
        "stays", "around", "What of it stays bare?",
        (
            Choice("none", "Nothing"),
            Choice("seats", "Wheel seats, clamped faces", False, "Masked before every coat: film lets joints loosen."),
            Choice("bearings", "Bearings, threads", False, "Masked before every coat."),
            Choice("brake", "Brake faces", False, "Masked before every coat."),
            Choice("earth", "Earth faces", False, "Masked before every coat."),
        ), several=True, text="where",
    ),
    Topic(
        "hides", "look", "Where rust hides here",
        (Choice("clean", "Clean"), Choice("rust", "Rust", True), Choice("wet", "Wet or packed", True)),
        rows=9, wants_cause=True,
    ),
    Topic(
        "more", "look", "Found more",
        (Choice("rust", "Rust", True), Choice("hole", "Hole", True), Choice("filler", "Filler", True), Choice("crack", "Crack", True),
         Choice("weld", "Weld, bad or missing", True), Choice("dent", "Dent or kink", True), Choice("other", "Other", True)),
        rows=99, wants_cause=True, text="what",
    ),
    Topic(
        "film", "look", "Fault of a coat",
        (
            Choice("runs", "Runs", True, "Let it harden through, shave them, sand flat, coat again."),
            Choice("dry-spray", "Dry spray", True, "Sand the grit off, coat again nearer and wetter."),
            Choice("dust", "Dust", True, "Sand out when hard; damp the floor and wipe with a tack cloth first."),
            Choice("insects", "Insects", True, "Leave it, lift the rest out when dry, sand and touch up."),
            Choice("craters", "Craters", True, "Stop: silicone or oil; wipe, sand to sound film, clean, coat again."),
            Choice("orange-peel", "Orange peel", True, "Sand it flat when hard; thinner, warmer or wetter next time."),
            Choice("popping", "Solvent popping", True, "Wait until the solvent is out, sand to the holes' ground, coat again."),
            Choice("pinholes", "Pinholes in it", True, "Sand, skim what lies under, coat again."),
            Choice("blush", "Blush, milky", True, "Warm and dry it; polish, or sand and coat again."),
            Choice("lifts", "Lifts, wrinkles", True, "Off as far as it is loose; a barrier before the next coat."),
            Choice("peels", "Peels", True, "Off to what holds; key it before the next coat."),
            Choice("blistered", "Blisters in it", True, "Off to sound ground; wash, dry, build it up again."),
            Choice("cracks", "Cracks", True, "Off to sound ground: cracks come back through."),
            Choice("sunk", "Sunk, scratches show", True, "Let it go through, sand flat, coat again."),
            Choice("dull", "Dull, died back", True, "Let it harden through, then polish."),
            Choice("mottled", "Mottled", True, "A light pass across from farther, before clear."),
            Choice("bleeds", "Bleeds through", True, "Isolate it, then colour again."),
            Choice("cut-through", "Cut through", True, "Prime it before a coat of colour: what is bared shows as a ring."),
            Choice("spit", "Spit", True, "Sand it out there, bring that back to full coverage, then go on."),
            Choice("scratch", "Scratch", True, "Sand it out there, bring that back to full coverage, then go on."),
            Choice("shows", "Shows through", True, "Another coat there, until nothing under it is seen."),
            Choice("torn", "Torn edge", True, "Feather it, prime what is bare, bring its colour back."),
        ), rows=99, text="where",
    ),
)  # fmt: skip
TOPICS: dict[str, Topic] = {topic.key: topic for topic in _TOPICS}
