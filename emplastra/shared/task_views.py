"""How far a task is, and what came of it."""

from django.http import Http404, HttpResponseRedirect
from django.shortcuts import get_object_or_404, render
from django.views.decorators.http import require_POST

from . import tasks
from .models import Task


class KeepsFile:
    """A view that keeps what was uploaded for a task's process; it goes again where no task takes it."""

    kept = None

    def post(self, request, **kwargs):
        try:
            return super().post(request, **kwargs)
        finally:
            if self.kept:  # refused, or the same sending twice: the first one's process has its own
                self.kept.unlink()

    def hand_over(self):
        """The file's path, the task's own from now on."""
        path, self.kept = self.kept, None
        return path


def task_or_404(request, pk, **more):
    """A task of one's own, or any for an owner, as it stands."""
    task = tasks.as_it_stands(get_object_or_404(Task, pk=pk, **more))
    if task.user_id != request.user.pk and not request.user.is_owner:
        raise Http404
    return task


def page(request, pk):
    """A task: how far it is; then what it came to, or why it did not."""
    return render(request, "shared/task.html", {"task": task_or_404(request, pk)})


def progress(request, pk):
    """How far a task is: a fragment; once it has ended, its page is loaded anew."""
    task = task_or_404(request, pk)
    answer = render(request, "shared/progress.html", {"task": task})
    if task.state != Task.State.RUNNING:
        answer["HX-Refresh"] = "true"
    return answer


@require_POST
def stop(request, pk):
    """Stop a task."""
    task = task_or_404(request, pk)
    tasks.cancel(task)
    return HttpResponseRedirect(task.get_absolute_url())
