"""The survey sheet of a zone: every question of a pass as fields of one form."""

from dataclasses import dataclass

from django import forms

from emplastra.core.piece.parts import PARTS
from emplastra.core.survey.answers import Answer, AnswerError, check, check_drain
from emplastra.core.survey.topics import AS_THEY_COME, EVIDENCE, GROUPS, TOPICS
from emplastra.shared.fields import PlainNumber, QuantityField, WorkshopForm

from .forms import CAUSE_CHOICES

EVIDENCE_CHOICES = list(EVIDENCE.items())
AS_ABOVE = [("", "seen as above"), *EVIDENCE_CHOICES]
PROBES = [("", "no probe"), ("1", "probe went through"), ("0", "probe stopped")]


@dataclass
class Row:
    """One question as it stands on the sheet: its bound fields, and what else is known of it."""

    topic: object
    mark: str
    label: str
    choice: object
    evidence: object
    numbers: list
    cause: object = None
    text: object = None
    probe: object = None
    before: str = ""
    twin: str = ""

    @property
    def tiles(self):
        """True for one question with big choices; rows side by side have a list each."""
        return self.topic.rows == 1 or self.topic.key == "hides"

    @property
    def errors(self):
        """(field, what is wrong) of all that is wrong with it."""
        fields = [self.choice, self.evidence, *self.numbers, self.cause, self.text, self.probe]
        return [(self.label if f is self.choice else f.label, e) for f in fields if f is not None for e in f.errors]

    @property
    def answered(self):
        """True if something is chosen."""
        return bool(self.choice.value())


def _choice_field(topic, first):
    """The choices of a question: one of them, in large or in a list, or several. first: what holds."""
    choices = [(c.key, c.word) for c in topic.choices]
    if topic.several:
        chosen = first.split("+") if first else []
        widget = forms.CheckboxSelectMultiple
        return forms.MultipleChoiceField(
            label=topic.question, choices=choices, required=False, widget=widget, initial=chosen
        )
    widget = forms.RadioSelect if topic.rows == 1 or topic.key == "hides" else forms.Select
    choices = [("", "Not yet"), *choices]
    return forms.ChoiceField(label=topic.question, choices=choices, required=False, widget=widget, initial=first)


class SheetForm(WorkshopForm):
    """What is seen of a zone in one pass. `answers` after cleaning: [(core Answer, cause)]."""

    how = forms.ChoiceField(label="How do you see it?", choices=EVIDENCE_CHOICES, widget=forms.RadioSelect)

    def __init__(self, *args, zone, revision, stage, known, found=None, twin=None, uncovered="", **kwargs):
        """known: {(topic, mark): Finding} that hold in this pass; found: as found, for the second pass; twin: the
        other side's.
        """
        super().__init__(*args, **kwargs)
        self.revision, self.stage, self.known, self.answers = revision, stage, known, []
        self.found, self.twin, self.uncovered = found or {}, twin or {}, uncovered
        self.keys = self._keys()
        for topic, mark, _ in self.keys:
            self._add(topic, mark)
        for field in self.fields.values():
            if isinstance(field, QuantityField):
                field.system = self.workshop.units

    def _keys(self):
        """[(topic, mark, label)] in order: rows that hold, and empty ones to go on with."""
        found = []
        for topic in TOPICS.values():
            told = any(key == topic.key for key, _ in self.known)
            if topic.key in AS_THEY_COME or not (told or topic.is_asked_of(self.revision.substrate)):
                continue
            if topic.key == "hides":
                found += [(topic, key, f"Rust {words}?") for key, words in PARTS[self.revision.part].hides]
            elif topic.rows > 1:
                word = {"drain": "Drain", "layer": "Layer"}[topic.key]
                found += [(topic, str(n), f"{word} {n}") for n in range(1, topic.rows + 1)]
            else:
                found.append((topic, "", topic.question))
        return found

    def _name(self, topic, mark):
        return f"{topic.key}{mark}" if topic.rows > 1 else topic.key

    def _add(self, topic, mark):
        name, held = self._name(topic, mark), self.known.get((topic.key, mark))
        self.fields[name] = _choice_field(topic, held.choice if held else "")
        for number in topic.numbers:
            value = held.values.get(number.key) if held else None
            self.fields[f"{name}-{number.key}"] = (
                QuantityField("length", label=number.label, required=False, initial=value)
                if number.dimension
                else PlainNumber(number.unit, label=number.label, required=False, initial=value)
            )
        self.fields[f"{name}-evidence"] = forms.ChoiceField(
            label="seen", choices=AS_ABOVE, required=False, initial=held.evidence if held else ""
        )
        if topic.wants_cause:
            self.fields[f"{name}-cause"] = forms.ChoiceField(label="cause", choices=CAUSE_CHOICES, required=False)
        if topic.text:
            self.fields[f"{name}-text"] = forms.CharField(
                label=topic.text, max_length=200, required=False, initial=held.text if held else ""
            )
        if topic.key == "drain":
            self.fields[f"{name}-probe"] = forms.ChoiceField(label="probe", choices=PROBES, required=False)

    def label_of(self, name):
        """A field as an error names it: the question, and its part."""
        for topic, mark, label in self.keys:
            whole = self._name(topic, mark)
            if name == whole:
                return label
            if name.startswith(f"{whole}-"):
                return f"{label.rstrip('?')}: {self.fields[name].label}"
        return self.fields[name].label

    def groups(self):
        """[(key, name, rows)] for the template."""
        rows = {key: [] for key in GROUPS}
        for topic, mark, label in self.keys:
            rows[topic.group].append(self._row(topic, mark, label))
        return [(key, GROUPS[key], found) for key, found in rows.items() if found]

    def _row(self, topic, mark, label):
        name = self._name(topic, mark)

        def maybe(part):
            return self[f"{name}-{part}"] if f"{name}-{part}" in self.fields else None

        before, twin = self.found.get((topic.key, mark)), self.twin.get((topic.key, mark))
        return Row(
            topic,
            mark,
            label,
            self[name],
            maybe("evidence"),
            [self[f"{name}-{n.key}"] for n in topic.numbers],
            maybe("cause"),
            maybe("text"),
            maybe("probe"),
            before.answer.sentence if before else "",
            twin.answer.sentence if twin else "",
        )

    def clean(self):
        data, self.answers = super().clean(), []
        uncovered = data.get("uncovered") or self.uncovered
        for topic, mark, _ in self.keys:
            name = self._name(topic, mark)
            if not data.get(name) or any(f == name or f.startswith(f"{name}-") for f in self.errors):
                continue
            answer = self._answer(topic, mark, name, data)
            try:
                check(answer, self.revision.thickness_mm, uncovered)
                probe = data.get(f"{name}-probe")
                if probe:
                    check_drain(answer.choice, probe == "1")
            except AnswerError as error:
                field = error.field.replace(topic.key, name, 1) if error.field.startswith(topic.key) else name
                self.add_error(field if field in self.fields else name, str(error))
                continue
            self.answers.append((answer, data.get(f"{name}-cause") or ""))
        return data

    def _answer(self, topic, mark, name, data):
        """The core's value of what was typed; figures only where what is chosen has some."""
        choice = "+".join(data[name]) if isinstance(data[name], list) else data[name]
        values = {}
        if any(c.more for c in topic.choices if c.key in choice.split("+")):
            values = {n.key: float(v) for n in topic.numbers if (v := data.get(f"{name}-{n.key}")) is not None}
        evidence = data.get(f"{name}-evidence") or data.get("how") or "paint"
        return Answer(topic.key, mark, choice, values, (data.get(f"{name}-text") or "").strip(), evidence)
