"""Sent to a contractor, or the contractor comes here."""

from django import forms
from django.db import models
from django.db.models import Q

from emplastra.core.surface import events
from emplastra.core.surface.plan import read_steps
from emplastra.core.surface.steps import STEPS
from emplastra.core.survey.contractor import CAUTION, SEND_OFF, TRADES
from emplastra.shared.fields import day_input
from emplastra.shared.services import Refused

from ..forms import WholeForm
from ..kind import Detail, EntryKind, of_entry
from ..running import running_absence


class Away(Detail):
    """Sent to a contractor; its return names this entry."""

    entry = of_entry("away")
    contractor = models.CharField(max_length=80)
    visit = models.BooleanField("comes here", default=False)
    trade = models.CharField(max_length=8, choices=[(k, t.name) for k, t in TRADES.items()], default="other")
    work = models.CharField(max_length=120)
    due = models.DateField(null=True)
    # What was looked after before it went: {key of the send-off list: note}.
    send_off = models.JSONField(default=dict)
    condition = models.CharField(max_length=200, blank=True)


class AwayForm(WholeForm):
    """Sent to a contractor, or the contractor comes here; what was looked after before."""

    contractor = forms.CharField(label="To whom", max_length=80)
    trade = forms.ChoiceField(
        label="What kind of work", choices=[(k, t.name) for k, t in TRADES.items()], required=False
    )
    work = forms.CharField(label="For what", max_length=120, help_text="Dip, blast, powder, dents")
    visit = forms.BooleanField(label="They come here", required=False)
    due = forms.DateField(label="Due back", required=False, widget=day_input())
    send_off = forms.MultipleChoiceField(
        label="Looked after before it goes",
        choices=list(SEND_OFF.items()),
        required=False,
        widget=forms.CheckboxSelectMultiple,
    )
    condition = forms.CharField(
        label="Condition out", max_length=200, required=False, help_text="Dents, thin spots, what is marked where"
    )
    also = forms.ModelMultipleChoiceField(
        None,
        label="Goes with it",
        required=False,
        widget=forms.CheckboxSelectMultiple,
        help_text="They come back together.",
    )
    order = ("contractor", "trade", "work", "visit", "due", "send_off", "condition", "also")

    def __init__(self, *args, others, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["also"].queryset = others
        if self.correcting or not others.exists():
            del self.fields["also"]

    def clean_trade(self):
        return self.cleaned_data["trade"] or "other"

    def zones(self):
        return (*super().zones(), *((zone, 1.0, "") for zone in self.cleaned_data.get("also", ())))


def planned(steps):
    """Id of the step of a plan that sends it away, before its turn or not; "" where it has none, or several."""
    mine = [step.id for step in steps if STEPS[step.kind].entry == "away" and not step.left_out]
    return mine[0] if len(mine) == 1 else ""


def planned_on(zone):
    """As `planned`, of a zone's newest plan."""
    plan = zone.build_ups.order_by("number").last()
    return planned(read_steps(plan.steps)) if plan else ""


class Kind(EntryKind):
    key, label, group, order = "away", "Sent away", "place", 140
    together = False
    row, form, columns, related, cautions = Away, AwayForm, ("contractor", "due"), ("away",), (CAUTION,)
    names = ("contractor", "trade", "work", "visit", "due", "condition")

    def event(self, common, told, sheets):
        return events.Away(*common, contractor=told["contractor"], due=told["due"])

    def form_kwargs(self, about):
        return {"others": about.zone.job.zones.in_use().filter(parent=None).exclude(pk=about.zone.pk)}

    def initial(self, about, first):
        told = about.of(self)
        if told:
            return super().initial(about, first) | {"send_off": list(told.send_off)}
        return {} if first["step"] else {"step": planned(about.steps)}

    def zones(self, form, about):
        """What goes with it goes on its own plan's step."""
        beside = form.cleaned_data.get("also", ())
        return tuple((z, share, step or (planned_on(z) if z in beside else "")) for z, share, step in form.zones())

    def details(self, data, about):
        if not about.entry:
            for zone in [about.zone, *data.get("also", ())]:
                if running_absence(zone):
                    raise Refused(f"{zone} is away already: log it back first")
        return super().details(data, about) | {"send_off": dict.fromkeys(data["send_off"], True)}

    def dependants(self, entry):
        return Q(back__away=entry)

    def tell(self, entry, context):
        told = entry.away
        facts = [("due back", f"{told.due:%d %b %Y}")] if told.due else []
        facts += [("condition out", told.condition)] if told.condition else []
        wanted = TRADES[told.trade].wants
        if told.trade != "other":
            facts.append(("looked after", f"{len(set(wanted) & set(told.send_off))} of {len(wanted)}"))
        return (
            f"{told.contractor} came for {told.work}" if told.visit else f"Sent to {told.contractor}: {told.work}",
            facts,
        )
