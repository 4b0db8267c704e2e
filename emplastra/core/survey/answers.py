"""What is stated on a survey: how an answer is read, what it says, how much of a piece was seen."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field

from ..errors import FieldError
from ..piece.parts import PARTS
from ..words import length_q
from .topics import AS_THEY_COME, DENSITY, EVIDENCE, SALTS_MG_M2, SIZES, TOPICS, Choice, Number, Topic


class AnswerError(FieldError):
    """An answer that cannot be: `field` names the topic or the number ("holes", "holes-mm")."""


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


_TROUBLE = {(topic.key, choice.key) for topic in TOPICS.values() for choice in topic.choices if choice.trouble}


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
    _check_choices(topic, answer.choice.split("+"))
    if answer.evidence not in EVIDENCE:
        raise AnswerError(topic.key, f"evidence must be one of {', '.join(EVIDENCE)}")
    by_hand = topic.felt and answer.evidence == "felt"
    if topic.graded and uncovered == "dirt" and not by_hand:
        raise AnswerError(
            topic.key, f"{topic.question}: nothing is graded under dirt; uncover and wash, then say that it is clean"
        )
    if topic.graded and answer.evidence == "not-seen":
        raise AnswerError(topic.key, f"{topic.question}: what was not seen cannot be graded; leave it blank")
    _check_numbers(topic, answer, thickness_mm)
    return answer


def _check_choices(topic: Topic, keys: Sequence[str]) -> None:
    if not topic.several and len(keys) > 1:
        raise AnswerError(topic.key, f"{topic.question}: one choice only")
    if any(topic.choice(key) is None for key in keys):
        raise AnswerError(topic.key, f"{topic.question}: must be one of {', '.join(c.key for c in topic.choices)}")
    if {"none", "nothing"} & set(keys) and len(keys) > 1:
        raise AnswerError(topic.key, f"{topic.question}: nothing, or what there is, not both")


def _check_numbers(topic: Topic, answer: Answer, thickness_mm: float | None) -> None:
    needs = any(c.more for c in answer.choices)
    for number in topic.numbers:
        _check_number(topic, number, answer.values.get(number.key), needs)
    unknown = set(answer.values) - {number.key for number in topic.numbers}
    if unknown:
        raise AnswerError(topic.key, f"{topic.question}: no figure is called {', '.join(sorted(unknown))}")
    if topic.key == "looked" and sum(answer.values.get(k, 0.0) for k in ("bare_pct", "paint_pct")) > 100.0 + 1e-9:
        raise AnswerError("looked-bare_pct", f"{topic.question} Bare and through paint together are over 100 %")
    if thickness_mm is not None:
        _check_depths(topic, answer.values, thickness_mm)


def _check_number(topic: Topic, number: Number, value: float | None, needs: bool) -> None:
    name = f"{topic.key}-{number.key}"
    if value is None and needs and number.needed:
        raise AnswerError(name, f"{topic.question}, {number.label}: write a number, as in {max(number.low, 1):g}")
    if value is not None and not number.low <= value <= number.high:
        span = number.said(number.low, number.high)
        raise AnswerError(name, f"{topic.question}, {number.label}: must be from {span}")


def _check_depths(topic: Topic, values: Mapping[str, float], thickness_mm: float) -> None:
    """What is left of a thickness, and how deep pits are, against the zone's own thickness [mm]."""
    if topic.key == "thin" and values.get("left", 0.0) > thickness_mm + 1e-9:
        raise AnswerError(
            "thin-left",
            f"Thickness left: {length_q(values['left'])} is more than the zone’s {length_q(thickness_mm)}; "
            "measure again, or correct its measures",
        )
    if topic.key == "pits" and values.get("depth", 0.0) > thickness_mm:
        raise AnswerError("pits-depth", f"Pits: deeper than the metal’s {length_q(thickness_mm)} is a hole")


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
    figures = [f"{n.label} {n.said(values[n.key])}" for n in topic.numbers if n.key in values]
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
    return f"{words}, largest {length_q(largest)}" if largest else words


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
    "film": lambda a: f"{a.choices[0].word} in the coat",
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


ASKED = tuple(
    t.key
    for t in TOPICS.values()
    if t.key not in {*AS_THEY_COME, "hides", "layer", "drain", "dust", "salts", "toxic", "held", "stays"}
)
"""Topics that every zone should have an answer to."""


def unasked(answers: Sequence[Answer], substrate: str = "") -> list[str]:
    """Questions of a zone of this substrate that nobody has answered yet, in order."""
    answered = {a.topic for a in answers}
    return [TOPICS[key].question for key in ASKED if key not in answered and TOPICS[key].is_asked_of(substrate)]
