"""The calendar: somebody's private address made and revoked, what it gives; a sheet of a day to print."""

from datetime import date, datetime

from django import forms as plain
from django.contrib import messages
from django.http import Http404, HttpResponse, HttpResponseRedirect
from django.shortcuts import render
from django.urls import reverse
from django.views.decorators.http import require_POST

from emplastra.accounts import services as accounts
from emplastra.jobs import days as told
from emplastra.say.book import book_of
from emplastra.shared import clock
from emplastra.shared.fields import WorkshopForm
from emplastra.shared.views import OnceView, one_tap
from emplastra.state.book import Book

from .calendar import calendar_of


class FeedForm(WorkshopForm):
    """How somebody's calendar rings."""

    lead_min = plain.IntegerField(
        label="Alarm before",
        min_value=0,
        max_value=1440,
        initial=45,
        help_text="Minutes: mixing, induction, the way there.",
    )
    quiet_from = plain.TimeField(label="Quiet from", initial="21:00")
    quiet_to = plain.TimeField(
        label="Quiet until", initial="06:00", help_text="An alarm that falls between sounds before."
    )


class Calendar(OnceView):
    """Somebody's calendar address."""

    form_class, template, action = FeedForm, "days/calendar.html", "calendar"
    heading, button = "Calendar", "Make a private address"
    done = "Made: copy it now, it is shown this once. An older one opens no more."

    def context(self, form):
        links = self.request.user.feed_links.filter(revoked=None)
        return {"link": links.order_by("-pk").first(), "secret": self.request.session.pop("feed", "")}

    def carry_out(self, form):
        data = form.cleaned_data
        quiet = [at.hour * 60 + at.minute for at in (data["quiet_from"], data["quiet_to"])]
        secret = accounts.make_feed(self.request.user, clock.now(), data["lead_min"], *quiet)
        self.request.session["feed"] = self.request.build_absolute_uri(reverse("days:feed", args=[secret]))
        return reverse("days:calendar")


@require_POST
def revoke(request):
    """Revoke one's calendar address."""

    def carry_out():
        accounts.revoke_feeds(request.user, clock.now())
        return reverse("days:calendar")

    one_tap(request, "revoke-feed", {}, carry_out, "Calendar", "Revoked: it opens no more.")
    return HttpResponseRedirect(reverse("days:calendar"))


def feed(request, secret):
    """What a private address gives to whoever has it: nothing that could be changed, and no more once it is revoked."""
    link = accounts.feed_of(secret)
    if link is None:
        raise Http404
    answer = HttpResponse(calendar_of(link, told.held_plan(), Book()), content_type="text/calendar; charset=utf-8")
    answer["Cache-Control"], answer["Referrer-Policy"] = "private, max-age=300", "no-referrer"
    answer["X-Robots-Tag"] = "noindex"
    return answer


def sheet(request):
    """The acts of one day, by person, on paper."""
    book, held = book_of(request), told.held_plan()
    zone = book.facts.workshop.zone
    try:
        day = date.fromisoformat(request.GET.get("day", ""))
    except ValueError:
        day = book.facts.today
    rows = [r for r in (held.acts if held else ()) if datetime.fromtimestamp(r["begin"], zone).date() == day]
    people = {}
    for row in sorted(rows, key=lambda r: r["begin"]):
        people.setdefault(row["who"] or "away", []).append(row)
    if request.GET.get("day") and not held:
        messages.info(request, "No plan was taken yet.")
    noon = datetime(day.year, day.month, day.day, 12, tzinfo=zone)
    return render(request, "days/sheet.html", {"day": noon, "people": people.items(), "held": held})
