"""What somebody saw or felt."""

from django import forms
from django.db import models

from emplastra.core.surface import events
from emplastra.core.surface.events import CHECKS

from ..forms import UnplannedForm
from ..kind import Detail, EntryKind, of_entry


class Checked(Detail):
    entry = of_entry("checked")
    check_kind = models.CharField(max_length=20, choices=[(k, c.name) for k, c in CHECKS.items()])
    passed = models.BooleanField()


class CheckedForm(UnplannedForm):
    """What somebody saw or felt."""

    said = forms.ChoiceField(
        label="What is seen or felt",
        choices=[(f"{key}:{n}", word) for key, c in CHECKS.items() for n, word in ((1, c.passes), (0, c.fails))],
        widget=forms.RadioSelect,
    )
    order = ("said",)

    def __init__(self, *args, answerable=(), **kwargs):
        """answerable: keys of CHECKS to offer, none for all; any is taken."""
        super().__init__(*args, **kwargs)
        said = self.fields["said"]
        if answerable:
            said.widget.choices = [(key, word) for key, word in said.choices if key.split(":")[0] in answerable]


class Kind(EntryKind):
    key, label, group, order = "checked", "Check", "look", 120
    at_once = True
    given = ("said",)
    row, form, columns, related = Checked, CheckedForm, ("check_kind", "passed"), ("checked",)

    def form_kwargs(self, about):
        return {"answerable": () if about.entry else about.answerable}

    def event(self, common, told, sheets):
        return events.Checked(*common, check=told["check_kind"], passed=told["passed"])

    def initial(self, about, first):
        told = about.of(self)
        return {"said": f"{told.check_kind}:{int(told.passed)}"} if told else {}

    def details(self, data, about):
        kind, passed = data["said"].split(":")
        return {"check_kind": kind, "passed": passed == "1"}

    def tell(self, entry, context):
        told = entry.checked
        kind = CHECKS[told.check_kind]
        return f"{kind.name}: {kind.passes if told.passed else kind.fails}", []
