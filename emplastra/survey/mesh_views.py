"""The area of a zone from a mesh: sent, measured by a process of its own, picked, taken."""

from django.http import Http404
from django.shortcuts import render
from django.urls import reverse
from django.views.decorators.http import require_POST

from emplastra.core.piece import meshes
from emplastra.jobs import services as jobs
from emplastra.shared import tasks
from emplastra.shared.models import Task
from emplastra.shared.services import Refused
from emplastra.shared.task_views import KeepsFile, task_or_404

from . import forms
from .map_views import ZoneAct

MESH = "survey:mesh"
"""The page of a mesh that is being measured, and of its parts."""


class SendMesh(KeepsFile, ZoneAct):
    """Send a mesh to be measured."""

    form_class = forms.MeshForm
    template = "survey/upload.html"
    action, heading, button = "send mesh", "Area from a mesh", "Measure it"
    done = "Sent: it is being measured."
    explain = "STL, OBJ or PLY, up to 40 MB. It is measured here and not kept."
    max_body = meshes.MAX_BYTES + 500_000

    def prepare(self, form):
        """The file, put where its process finds it."""
        self.kept = tasks.keep(form.cleaned_data["mesh"], form.mesh_kind)

    def carry_out(self, form):
        upload = form.cleaned_data["mesh"]
        back = reverse("survey:send-mesh", args=[self.zone.pk])
        about = {"zone": self.zone.pk, "file": upload.name[-80:], "doing": "Measuring", "view": MESH, "back": back}
        measure = "emplastra.core.piece.meshes", self.hand_over(), form.mesh_kind
        return tasks.program(self.request.user, "mesh", *measure, about=about).get_absolute_url()


class TakeMesh(ZoneAct):
    """How far it is; measured, its parts are picked and its area taken."""

    form_class = forms.PickForm
    template = "survey/mesh.html"
    action, heading, button = "take mesh", "Area from a mesh", "Take this area"
    done = "Area taken from the mesh."

    def setup(self, request, *args, **kwargs):
        self.task = task_or_404(request, kwargs["pk"], kind="mesh")
        super().setup(request, *args, pk=self.task.about["zone"])

    @property
    def report(self):
        """What was measured, None while it is not."""
        return meshes.report_of(self.task.result) if self.task.state == Task.State.DONE else None

    def form_kwargs(self):
        return {"report": self.report}

    def initial(self):
        return {"unit": "mm", "faces": "one", "picked": [p.number for p in self.report.parts] if self.report else []}

    def context(self, form):
        told = {"task": self.task, "report": self.report}
        return super().context(form) | told | {"area_m2": form.area_m2() if self.report else None}

    def carry_out(self, form):
        area = form.area_m2()
        if area is None:
            raise Refused("nothing is measured yet")
        shape = {
            "kind": "mesh",
            "dims": {"m2": area},
            "count": 1,
            "mesh": {
                "file": self.task.about["file"],
                "parts": form.cleaned_data["picked"],
                "unit": form.cleaned_data["unit"],
                "faces": form.cleaned_data["faces"],
                "closed": self.report.closed,
            },
        }
        measures = jobs.measures_of(self.zone) | {"shapes": [shape]}
        jobs.revise_zone(self.zone, self.request.user, f"from the mesh {self.task.about['file']}"[:200], **measures)
        return self.zone.job.get_absolute_url()


@require_POST
def mesh_area(request, pk):
    """The area of what is picked: a fragment."""
    task = task_or_404(request, pk, kind="mesh")
    if task.state != Task.State.DONE:
        raise Http404
    report = meshes.report_of(task.result)
    form = forms.PickForm(request.POST, workshop=request.workshop, report=report)
    form.is_valid()
    return render(request, "survey/mesh_area.html", {"area_m2": form.area_m2(), "report": report})
