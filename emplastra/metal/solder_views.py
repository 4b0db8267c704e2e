"""Solder of a zone: stays or goes by the school, what it weighs, what came out and went in."""

from django import forms as plain
from django.urls import reverse

from emplastra.core.level.filling import fill
from emplastra.core.metal import solder
from emplastra.core.rules.registry import SCHOOLS
from emplastra.core.surface.names import StepKind
from emplastra.core.surface.steps import DEFER, STEPS
from emplastra.jobs.judging import schools_of
from emplastra.jobs.models import SolderMoved
from emplastra.jobs.surveying import held
from emplastra.say.book import book_of
from emplastra.shared.fields import QuantityField, WorkshopForm
from emplastra.shared.services import as_refused
from emplastra.state.level import level_of
from emplastra.survey.map_views import ZoneAct


class SolderForm(WorkshopForm):
    """Solder weighed, or measured and worked out."""

    way = plain.ChoiceField(label="Out or in", choices=SolderMoved.Way.choices)
    alloy = plain.ChoiceField(label="Alloy", choices=[(k, name) for k, (name, _) in solder.ALLOYS.items()])
    mass_g = QuantityField("mass", 0.1, 100_000, label="Weighed", required=False)
    length_mm = QuantityField("length", 0.1, 10_000, label="Or its length", required=False)
    width_mm = QuantityField("length", 0.1, 1000, label="width", required=False)
    depth_mm = QuantityField("length", 0.01, 50, label="depth", required=False)
    note = plain.CharField(label="Note", max_length=120, required=False)

    sizes = ("length_mm", "width_mm", "depth_mm")

    def clean(self):
        data = super().clean()
        if not self.errors and data.get("mass_g") is None and any(data.get(k) is None for k in self.sizes):
            self.add_error("mass_g", "weigh it, or give length, width and depth")
        return data


class Solder(ZoneAct):
    form_class = SolderForm
    template = "metal/solder.html"
    action, heading, button = "solder", "Solder", "Write it down"
    done = "Written down."

    def context(self, form):
        schools = schools_of([self.zone.job])[self.zone.job_id]
        found = {topic: row.choice for (_, topic, _), row in held(self.zone).items()}.get("solder", "")
        words, steps = solder.steps(schools["solder"], found)
        level = level_of(book_of(self.request, self.zone).state(self.zone))
        lows = [
            (low, solder.instead(low.volume_ml, low.area_m2, fill(low, level.paste).work_min)) for low in level.lows
        ]
        rows = list(self.zone.solder_moved.order_by("id").select_related("who"))
        return super().context(form) | {
            "words": words,
            "steps": steps,
            "school": SCHOOLS["solder"][1][schools["solder"]],
            "rows": rows,
            "lows": lows,
            "run_in": solder.RUN_IN if schools["solder"] == "stays" else (),
            "flexes": solder.FLEXES,
            "balance": solder.balance([(r.way, r.alloy, r.mass_g) for r in rows]),
            "cautions": STEPS[StepKind.SOLDER].cautions,
            "defer": DEFER,
        }

    def carry_out(self, form):
        data = form.cleaned_data
        grams = data["mass_g"]
        if grams is None:
            with as_refused():
                grams = solder.mass_g(data["alloy"], *(data[k] for k in form.sizes))
            data["note"] = f"by its size {data['note']}".strip()
        SolderMoved.objects.create(
            zone=self.zone,
            way=data["way"],
            alloy=data["alloy"],
            mass_g=grams,
            note=data["note"][:120],
            who=self.request.user,
        )
        return reverse("metal:solder", args=[self.zone.pk])
