"""The area of a zone from a mesh: sent, measured by a process of its own, picked, taken."""

from django.http import Http404, HttpResponseRedirect
from django.shortcuts import get_object_or_404, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from emplastra.core.piece import meshes
from emplastra.jobs import services as jobs
from emplastra.shared import tasks
from emplastra.shared.models import Task
from emplastra.shared.services import Refused

from . import forms
from .map_views import ZoneAct


class SendMesh(ZoneAct):
    """Send a mesh to be measured."""

    form_class = forms.MeshForm
    template = "survey/upload.html"
    action, heading, button = "send mesh", "Area from a mesh", "Measure it"
    done = "Sent: it is being measured."
    explain = "STL, OBJ or PLY, up to 40 MB. It is measured here and not kept."
    max_body = meshes.MAX_BYTES + 500_000

    def post(self, request, **kwargs):
        self.prepared = None
        try:
            return super().post(request, **kwargs)
        finally:
            if self.prepared:  # the same mesh sent twice: the first one's process has its own
                self.prepared.unlink()

    def prepare(self, form):
        """The file, where its process finds it."""
        return tasks.keep(form.cleaned_data["mesh"], form.mesh_kind)

    def carry_out(self, form):
        upload, path, self.prepared = form.cleaned_data["mesh"], self.prepared, None
        about = {"zone": self.zone.pk, "file": upload.name[-80:]}
        task = tasks.start(self.request.user, "mesh", "emplastra.core.piece.meshes", path, form.mesh_kind, about=about)
        return reverse("survey:mesh", args=[task.pk])


def task_or_404(request, pk):
    """A mesh task of one's own, or any for an owner."""
    task = get_object_or_404(Task, pk=pk, kind="mesh")
    if task.user_id != request.user.pk and not request.user.is_owner:
        raise Http404
    return task


class TakeMesh(ZoneAct):
    """How far it is; measured, its parts are picked and its area taken."""

    form_class = forms.PickForm
    template = "survey/mesh.html"
    action, heading, button = "take mesh", "Area from a mesh", "Take this area"
    done = "Area taken from the mesh."

    def setup(self, request, *args, **kwargs):
        self.task = task_or_404(request, kwargs["pk"])
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
        told = {"task": self.task, "dead": tasks.is_dead(self.task), "report": self.report}
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


def progress(request, pk):
    """How far a mesh is: a fragment; once it is measured, the page is loaded anew."""
    task = task_or_404(request, pk)
    answer = render(request, "survey/progress.html", {"task": task, "dead": tasks.is_dead(task)})
    if task.state == Task.State.DONE:
        answer["HX-Refresh"] = "true"
    return answer


@require_POST
def mesh_area(request, pk):
    """The area of what is picked: a fragment."""
    task = task_or_404(request, pk)
    if task.state != Task.State.DONE:
        raise Http404
    report = meshes.report_of(task.result)
    form = forms.PickForm(request.POST, workshop=request.workshop, report=report)
    form.is_valid()
    return render(request, "survey/mesh_area.html", {"area_m2": form.area_m2(), "report": report})


@require_POST
def stop(request, pk):
    """Stop measuring."""
    task = task_or_404(request, pk)
    tasks.cancel(task)
    return HttpResponseRedirect(reverse("survey:mesh", args=[pk]))
