"""Back from a contractor."""

from django import forms
from django.db import models

from emplastra.core.surface import events
from emplastra.core.survey.answers import Answer
from emplastra.core.survey.contractor import CAME_BACK, CAUTION
from emplastra.jobs import surveying
from emplastra.shared.services import Refused

from ..entry import Entry
from ..forms import WholeForm
from ..kind import Detail, EntryKind, of_entry
from ..running import running_absence
from .away import planned, planned_on


class Back(Detail):
    entry = of_entry("back")
    away = models.ForeignKey(Entry, on_delete=models.PROTECT, related_name="returns")
    condition = models.CharField(max_length=200, blank=True)
    came = models.CharField(max_length=9, choices=list(CAME_BACK.items()), default="as-sent")
    primer = models.CharField("temporary primer or coat", max_length=60, blank=True)
    rework = models.CharField(max_length=200, blank=True)


class BackForm(WholeForm):
    """Back from a contractor: in what state, and what is to be done again."""

    came = forms.ChoiceField(
        label="It comes back",
        choices=list(CAME_BACK.items()),
        widget=forms.RadioSelect,
        initial="as-sent",
        required=False,
    )
    primer = forms.CharField(
        label="Temporary primer or coat",
        max_length=60,
        required=False,
        help_text="Of what kind: wash primer, one-pack, shop zinc, powder black",
    )
    condition = forms.CharField(
        label="Condition", max_length=200, required=False, help_text="Dents, what has come loose, what was blasted thin"
    )
    rework = forms.CharField(
        label="To be done again",
        max_length=200,
        required=False,
        help_text="It stays open as a finding until it is verified.",
    )
    order = ("came", "primer", "condition", "rework")

    def clean_came(self):
        return self.cleaned_data["came"] or "as-sent"

    def clean(self):
        data = super().clean()
        if data.get("came") in {"temporary", "coated"} and not data.get("primer"):
            self.add_error("primer", "say of what kind it is; “not told” if they do not know")
        return data


class Kind(EntryKind):
    key, label, group, order = "back", "Back", "place", 150
    together = False
    row, form, columns, related, cautions = Back, BackForm, ("came", "primer"), ("back",), (CAUTION,)
    names = ("came", "primer", "condition", "rework")

    def event(self, common, told, sheets):
        return events.Back(*common, came=told["came"], product=told["primer"])

    def recorded_by(self, step):
        return step.entry == "away"

    def initial(self, about, first):
        """It is back from the step on which it went, or from the one that its plan has since."""
        away = None if about.entry else self._away(about)
        row = away and away.places_on.filter(zone=about.zone).first()
        return super().initial(about, first) | ({"step": row.step or planned(about.steps)} if row else {})

    def _away(self, about):
        """The entry that sent it away."""
        told = about.of(self)
        return told.away if told else running_absence(about.zone)

    def details(self, data, about):
        away = self._away(about)
        if away is None:
            raise Refused("this zone is not away: log it sent away first")
        return super().details(data, about) | {"away": away}

    def zones(self, form, about):
        """All that went together comes back together."""
        told, away = form.zones(), self._away(about)
        if about.entry or away is None:
            return told
        beside = away.places_on.exclude(zone=about.zone).select_related("zone")
        return (*told, *((row.zone, 1.0, row.step or planned_on(row.zone)) for row in beside))

    def after(self, entry, data, about):
        if data["rework"] and not about.entry:
            mark = surveying.next_mark(about.zone, "more")
            answer = Answer("more", mark, "other", {}, data["rework"], "bare")
            surveying.state(about.zone, about.user, "bared", [(answer, "made-so")], data["step"])

    def tell(self, entry, context):
        told = entry.back
        facts = [("came", CAME_BACK[told.came].lower() + (f", {told.primer}" if told.primer else ""))]
        facts += [("to be done again", told.rework)] if told.rework else []
        return f"Back: {told.condition or 'condition not told'}", facts
