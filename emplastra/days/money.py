"""Money of a job: what it has come to, what is to come, what was paid to others."""

from django import forms as plain
from django.http import HttpResponseRedirect
from django.shortcuts import get_object_or_404
from django.urls import reverse
from django.views.decorators.http import require_POST

from emplastra.jobs import days as told
from emplastra.jobs.models import Paid
from emplastra.say.book import book_of_job
from emplastra.shared.fields import PlainNumber, WorkshopForm
from emplastra.shared.views import one_tap
from emplastra.state.money import money_of
from emplastra.work.job_views import JobView


class PaidForm(WorkshopForm):
    """Money that went, or is to go, for a job."""

    kind = plain.ChoiceField(label="For", choices=Paid.Kind.choices)
    what = plain.CharField(label="What", max_length=120, help_text="Powder coat of the yoke, invoice 118")
    amount = PlainNumber(label="Amount", min_value=0.01, max_value=1e7)
    still = plain.BooleanField(label="Still to be paid", required=False)

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["amount"].unit = self.workshop.currency


class MoneyPage(JobView):
    """What a job comes to, and one more thing that was paid."""

    form_class, template, action = PaidForm, "days/money.html", "paid"
    heading, button, done = "Money", "Write it down", "Written down."

    def context(self, form):
        book = book_of_job(self.request, self.job)
        return {"job": self.job, "money": money_of(book, self.job)}

    def carry_out(self, form):
        data = form.cleaned_data
        told.tell_paid(self.request.user, self.job, data["kind"], data["what"], data["amount"], data["still"])
        return reverse("days:money", args=[self.job.pk])


@require_POST
def strike(request, pk):
    """Take back what was told of money."""
    row = get_object_or_404(Paid, pk=pk)
    url = reverse("days:money", args=[row.job_id])

    def carry_out():
        told.strike_paid(request.user, row)
        return url

    one_tap(request, "strike-paid", {"row": pk}, carry_out, "Money", "Taken back.", scope=f"{pk}")
    return HttpResponseRedirect(url)
