"""What a survey asks of a zone, how an answer is read, and what it says.

Names and grades of ISO 8501-1, ISO 8502-3, -6 and -9 and ISO 4628-2 are from memory. The rest of the
topics and where trouble begins: common practice, no source.
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field

from .parts import PARTS

PASSES = {"found": "As found", "bared": "As bared"}
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
    3: "clearly seen, up to 0.5 mm",
    4: "0.5 to 5 mm",
    5: "over 5 mm",
}
"""ISO 4628 size of defects. From memory."""
DUST = {"0": "no dust seen", "1": "rating 1", "2": "rating 2", "3": "rating 3", "4": "rating 4", "5": "rating 5"}
"""ISO 8502-3 quantity rating by pressure-sensitive tape, 5 the most. From memory."""
SALTS_MG_M2 = 50.0
"""Salts above which washing again is the usual advice [mg/m2]. Common practice, no source: the sheet rules."""
DUST_LIMIT = 2
"""Dust rating above which cleaning again is the usual advice. Common practice, no source."""


class AnswerError(ValueError):
    """An answer that cannot be: `field` names the topic or the number ("holes", "holes-mm")."""

    def __init__(self, name: str, message: str) -> None:
        super().__init__(message)
        self.field = name


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


@dataclass(frozen=True)
class Topic:
    """One question of the survey.

    rows: how many may be answered side by side (old layers in order, drains by number); several:
    more than one choice may be ticked; graded: not to be answered under dirt; wants_cause: trouble
    here has a cause that has to be mended; text: label of free words, "" for none.
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

    def choice(self, key: str) -> Choice | None:
        """The choice of this key."""
        return next((c for c in self.choices if c.key == key), None)


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
        graded=True, wants_cause=True, help="ISO 8501-1, from memory; graded on clean metal only.",
    ),
    Topic(
        "blisters", "metal", "Blisters",
        tuple(Choice(k, f"{k} {v}", k != "0", more=k != "0") for k, v in DENSITY.items()),
        (Number("size", "size, 1 to 5", "", "", 1, 5, True),),
        graded=True, wants_cause=True, help="ISO 4628-2, from memory: quantity, then size.",
    ),
    Topic(
        "pits", "metal", "Pits",
        (Choice("none", "None"), Choice("pits", "Pits", True, more=True)),
        (_mm("depth", "deepest"),), graded=True, wants_cause=True,
    ),
    Topic(
        "holes", "metal", "Holes",
        (Choice("none", "None"), Choice("pinholes", "Pinholes", True, more=True), Choice("holes", "Holes", True, more=True)),
        (Number("count", "how many", "", "", 1, 10_000), _mm("mm", "largest", 3000)), graded=True, wants_cause=True,
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
    ),
    Topic(
        "seams", "joints", "Seams",
        (Choice("sound", "Sound"), Choice("open", "Open", True), Choice("cracked", "Sealer cracked", True),
         Choice("bridged", "Bridged with filler", True)), wants_cause=True,
    ),
    Topic(
        "layer", "layers", "Old layers, the outermost first",
        (
            Choice("crazed", "Crazed or old one-pack lacquer", True, "Comes off to the metal: its cracks come back through."),
            Choice("bleeding", "Bleeding colour", True, "Isolate with epoxy; a bleeding colour goes on last."),
            Choice("temporary", "Temporary primer", True, "Say of what kind: it may have to come off."),
            Choice("powder", "Powder"),
            Choice("factory", "Sound factory finish"),
            Choice("two-pack", "Sound two-pack"),
            Choice("compound", "Thick underbody compound", True, "Scrape first: media bounce off."),
            Choice("unknown", "Unknown", True, "Test a corner with solvent."),
        ), rows=6, text="colour, kind",
        help="Old paint may hold lead: test it before it is sanded dry.",
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
        help="ISO 8502-6 patch, ISO 8502-9 by conductivity, from memory. Blank: 15 mL, 12.5 cm².",
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
            Choice("fuel", "Fuel", False, "Fire: out before any heat or spark, by those licensed for it."),
        ), several=True,
    ),
    Topic(
        "hides", "look", "Where rust hides here",
        (Choice("clean", "Clean"), Choice("rust", "Rust", True), Choice("wet", "Wet or packed", True)),
        rows=9, wants_cause=True,
    ),
    Topic(
        "more", "look", "Found more",
        (Choice("rust", "Rust", True), Choice("hole", "Hole", True), Choice("filler", "Filler", True), Choice("crack", "Crack", True),
         Choice("weld", "Weld, bad or missing", True), Choice("dent", "Dent", True), Choice("other", "Other", True)),
        rows=99, wants_cause=True, text="what",
    ),
)  # fmt: skip
TOPICS: dict[str, Topic] = {topic.key: topic for topic in _TOPICS}


@dataclass(frozen=True)
class Answer:
    """A statement about a zone: topic, which row of it, choice ("a+b" where several), numbers, words, evidence."""

    topic: str
    mark: str
    choice: str
    values: Mapping[str, float] = field(default_factory=dict)
    text: str = ""
    evidence: str = "paint"

    @property
    def choices(self) -> tuple[Choice, ...]:
        """The choices made."""
        topic = TOPICS[self.topic]
        return tuple(c for c in (topic.choice(k) for k in self.choice.split("+")) if c)

    @property
    def trouble(self) -> bool:
        """True if it needs an answer."""
        return is_trouble(self.topic, self.choice, self.values)

    @property
    def hints(self) -> tuple[str, ...]:
        """What to do now."""
        if self.topic == "salts" and self.choice == "tested" and self.trouble:
            return ("Wash again and test again before any treatment.",)
        return tuple(dict.fromkeys(c.hint for c in self.choices if c.hint))

    @property
    def sentence(self) -> str:
        """It in words, with its figures."""
        return say(self)


def is_trouble(topic: str, choice: str, values: Mapping[str, float]) -> bool:
    """True if an answer needs an answer of its own: a step, a look."""
    if topic == "salts" and choice == "tested":
        return salts_mg_m2(**values) > SALTS_MG_M2
    return any((topic, key) in _TROUBLE for key in choice.split("+"))


_TROUBLE = {(topic.key, choice.key) for topic in _TOPICS for choice in topic.choices if choice.trouble}


def salts_mg_m2(rise: float, ml: float = 15.0, cm2: float = 12.5) -> float:
    """Soluble salts [mg/m2] from the rise of conductivity [µS/cm] of `ml` [mL] water under a patch of `cm2` [cm2].

    ISO 8502-9 takes 0.5 mg/L per µS/cm (from memory): 6 mg/m2 per µS/cm with 15 mL and 12.5 cm2.
    """
    return 0.5 * rise * (ml / 1000.0) / (cm2 / 10_000.0)


def check(answer: Answer, thickness_mm: float | None = None, uncovered: str = "") -> Answer:
    """The answer itself. Raises AnswerError naming topic or number where it cannot be.

    thickness_mm: nominal thickness of the zone [mm]; uncovered: the answer to "uncovered" that holds.
    """
    topic = TOPICS.get(answer.topic)
    if topic is None:
        raise AnswerError(answer.topic, f"no such question: one of {', '.join(TOPICS)}")
    keys = answer.choice.split("+")
    if not topic.several and len(keys) > 1:
        raise AnswerError(topic.key, f"{topic.question}: one choice only")
    for key in keys:
        if topic.choice(key) is None:
            raise AnswerError(topic.key, f"{topic.question}: must be one of {', '.join(c.key for c in topic.choices)}")
    if {"none", "nothing"} & set(keys) and len(keys) > 1:
        raise AnswerError(topic.key, f"{topic.question}: nothing, or what there is, not both")
    if answer.evidence not in EVIDENCE:
        raise AnswerError(topic.key, f"evidence must be one of {', '.join(EVIDENCE)}")
    if topic.graded and uncovered == "dirt":
        raise AnswerError(
            topic.key, f"{topic.question}: nothing is graded under dirt; uncover and wash, then say that it is clean"
        )
    if topic.graded and answer.evidence == "not-seen":
        raise AnswerError(topic.key, f"{topic.question}: what was not seen cannot be graded; leave it blank")
    _check_numbers(topic, answer, thickness_mm)
    return answer


def _check_numbers(topic: Topic, answer: Answer, thickness_mm: float | None) -> None:
    needs = any(c.more for c in answer.choices)
    for number in topic.numbers:
        name, value = f"{topic.key}-{number.key}", answer.values.get(number.key)
        if value is None:
            if needs and number.needed:
                raise AnswerError(
                    name, f"{topic.question}, {number.label}: write a number, as in {max(number.low, 1):g}"
                )
            continue
        if not number.low <= value <= number.high:
            unit = f" {number.unit}" if number.unit else ""
            raise AnswerError(
                name, f"{topic.question}, {number.label}: must be from {number.low:g} to {number.high:g}{unit}"
            )
    unknown = set(answer.values) - {number.key for number in topic.numbers}
    if unknown:
        raise AnswerError(topic.key, f"{topic.question}: no figure is called {', '.join(sorted(unknown))}")
    left = answer.values.get("left")
    if topic.key == "thin" and left is not None and thickness_mm is not None and left > thickness_mm + 1e-9:
        raise AnswerError(
            "thin-left", f"Thickness left: {left:g} mm is more than the zone’s {thickness_mm:g} mm; measure again, or correct its measures"
        )  # fmt: skip
    if topic.key == "pits" and thickness_mm is not None and answer.values.get("depth", 0.0) > thickness_mm:
        raise AnswerError("pits-depth", f"Pits: deeper than the metal’s {thickness_mm:g} mm is a hole")
    if topic.key == "looked" and sum(answer.values.get(k, 0.0) for k in ("bare_pct", "paint_pct")) > 100.0 + 1e-9:
        raise AnswerError("looked-bare_pct", f"{topic.question} Bare and through paint together are over 100 %")


def check_drain(choice: str, probed_through: bool | None) -> None:
    """Refuse a drain that is told closed and probed open. Raises AnswerError."""
    if choice in {"closed", "missing", "blocked"} and probed_through:
        word = TOPICS["drain"].choice(choice)
        raise AnswerError(
            "drain", f"Drains: “{word.word if word else choice}” and “the probe went through” cannot both be"
        )
    if choice == "open" and probed_through is False:
        raise AnswerError("drain", "Drains: “open, probed through” and “the probe stopped” cannot both be")


def say(answer: Answer) -> str:
    """A statement in words: "Holes: 3, the largest 12 mm"."""
    topic, values = TOPICS[answer.topic], answer.values
    text = f" ({answer.text})" if answer.text else ""
    if topic.key in _SAID:
        return f"{_SAID[topic.key](answer)}{text}"
    name = {"drain": f"Drain {answer.mark}", "layer": f"Layer {answer.mark}", "filler": "Filler"}.get(
        topic.key, topic.question.rstrip("?")
    )
    words = [c.word[:1].lower() + c.word[1:] for c in answer.choices if c.word.lower() != name.lower()]
    figures = [f"{n.label} {values[n.key]:g}{' ' + n.unit if n.unit else ''}" for n in topic.numbers if n.key in values]
    return f"{name}: {', '.join([*words, *figures]) or 'yes'}{text}"


def _say_blisters(answer: Answer) -> str:
    size = int(answer.values.get("size", 0))
    if answer.choice == "0" or not size:
        return f"Blisters: {DENSITY[answer.choice]}"
    return f"Blisters {answer.choice}(S{size}): {DENSITY[answer.choice]}, {SIZES[size]}"


def _say_holes(answer: Answer) -> str:
    if answer.choice == "none":
        return "Holes: none"
    count, largest = answer.values.get("count"), answer.values.get("mm")
    words = f"{count:.0f} {answer.choice}" if count else answer.choice.capitalize()
    return f"{words}, largest {largest:g} mm" if largest else words


def _say_looked(answer: Answer) -> str:
    if answer.choice != "part":
        return f"Seen: {answer.choices[0].word.lower()}"
    bare, paint = (answer.values.get(k, 0.0) for k in ("bare_pct", "paint_pct"))
    return f"Seen: {bare:g} % bare, {paint:g} % through paint"


def _say_salts(answer: Answer) -> str:
    if answer.choice != "tested":
        return f"Salts: {answer.choices[0].word.lower()}"
    return f"Salts: {salts_mg_m2(**answer.values):.0f} mg/m²"


def _say_hides(answer: Answer) -> str:
    places = (words for part in PARTS.values() for key, words in part.hides if key == answer.mark)
    return f"{answer.choices[0].word} {next(places, answer.mark)}"


_SAID: dict[str, Callable[[Answer], str]] = {
    "rust": lambda a: "Rust: none" if a.choice == "none" else f"Rust grade {a.choices[0].word}",
    "blisters": _say_blisters,
    "holes": _say_holes,
    "looked": _say_looked,
    "salts": _say_salts,
    "hides": _say_hides,
    "more": lambda a: f"Found more: {a.choices[0].word.lower()}",
}


@dataclass(frozen=True)
class Coverage:
    """Area [m2] that was seen bare or by mirror, judged through paint, and not seen."""

    seen_m2: float
    paint_m2: float
    unseen_m2: float

    @property
    def total_m2(self) -> float:
        """All of it [m2]."""
        return self.seen_m2 + self.paint_m2 + self.unseen_m2

    @property
    def shares(self) -> tuple[float, float, float]:
        """Seen, through paint, not seen [share of the area]; not seen is all of nothing."""
        total = self.total_m2
        if total <= 0:
            return 0.0, 0.0, 1.0
        return self.seen_m2 / total, self.paint_m2 / total, self.unseen_m2 / total


def coverage_of(area_m2: float, choice: str = "none", values: Mapping[str, float] | None = None) -> Coverage:
    """Coverage of a zone [m2] by its answer to "looked"; not seen without one."""
    bare, paint = {"bare": (1.0, 0.0), "paint": (0.0, 1.0)}.get(choice, (0.0, 0.0))
    if choice == "part":
        bare, paint = ((values or {}).get(k, 0.0) / 100 for k in ("bare_pct", "paint_pct"))
    return Coverage(area_m2 * bare, area_m2 * paint, area_m2 * max(0.0, 1.0 - bare - paint))


def total(coverages: Sequence[Coverage]) -> Coverage:
    """The sum of coverages."""
    return Coverage(
        sum(c.seen_m2 for c in coverages), sum(c.paint_m2 for c in coverages), sum(c.unseen_m2 for c in coverages)
    )


ASKED = tuple(t.key for t in _TOPICS if t.key not in {"hides", "more", "layer", "drain", "dust", "salts"})
"""Topics that every zone should have an answer to."""


def unasked(answers: Sequence[Answer]) -> list[str]:
    """Questions that nobody has answered yet, in order."""
    answered = {a.topic for a in answers}
    return [TOPICS[key].question for key in ASKED if key not in answered]
