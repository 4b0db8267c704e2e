"""Bench, jobs and zones by stage, search."""

import hashlib

from django.conf import settings
from django.http import HttpResponse, HttpResponseRedirect
from django.shortcuts import render
from django.template.loader import render_to_string
from django.urls import reverse

from emplastra.accounts.models import User
from emplastra.core.surface.steps import DEFER, STAGES
from emplastra.jobs.models import Zone
from emplastra.logbook.models import Kind
from emplastra.say.book import book_of
from emplastra.say.taps import together
from emplastra.say.whatif import WhatIf
from emplastra.shared import asked, backup, clock
from emplastra.shared import words as our_words
from emplastra.shared.many import Narrow, Pages
from emplastra.state.lifeline import Scale, marks, ticks

from . import help as words
from . import selectors
from . import windows as windows_of

BEFORE_H, AFTER_H = 4, 28


def _scale(book):
    now_s = book.facts.now.timestamp() // 60 * 60
    return Scale(now_s - BEFORE_H * 3600, now_s + AFTER_H * 3600)


def _rows(request):
    """What Bench shows: pots and zones as rows, each with its shapes."""
    book = book_of(request)
    scale = _scale(book)
    narrow = Narrow.read(request.GET)
    found = selectors.bench(book, narrow)
    return {
        "rows": [(row, marks(row.state, scale) if row.state else ()) for row in found.rows],
        "found": found,
        "scale": scale,
        "ticks": ticks(scale, book.facts.workshop, 4),
        "now_x": scale.x(book.facts.now.timestamp() // 60 * 60),  # as the scale: rows of a minute are the same
        "narrow": narrow,
        "alive": True,
    }


def home(request):
    """Bench: across jobs, what may be done now and what will close soon."""
    found = _rows(request)
    states = [row.state for row, _ in found["rows"] if row.state]
    return render(request, "bench/home.html", found | _backup(request) | {"together": together(states)})


def _backup(request):
    """When the last backup was made, and if that is too long ago for the owner who looks; the demo needs none."""
    if not request.user.is_owner or settings.PROFILE == "demo":
        return {}
    last = backup.last_backup(settings.DATA_DIR)
    since = last or User.objects.earliest("date_joined").date_joined  # a workshop may itself be younger than that
    return {"backup_is_old": backup.is_old(since, clock.now()), "last_backup": last}


def rows(request):
    """Bench's rows alone: a fragment that the page asks for again and again."""
    context = _rows(request)
    body = render_to_string("bench/rows.html", context, request)
    mark = hashlib.sha256(body.encode()).hexdigest()[:16]
    more = render_to_string("bench/refreshed.html", context | {"mark": mark}, request)
    if request.GET.get("mark") == mark:  # nothing changed but the hour: only that is sent
        answer = HttpResponse(more)
        answer["HX-Reswap"] = "none"
        return answer
    return HttpResponse(body + more)


def sheet(request):
    """What is due today, as a sheet of paper with room for a pencil."""
    return render(request, "bench/sheet.html", {"rows": selectors.today(book_of(request)), "defer": DEFER})


def band(request):
    """The air band alone, of a zone in view if one is asked for."""
    zone = Zone.objects.filter(pk=asked.an_id(request.GET, "zone"), removed=False).select_related("job").first()
    book_of(request, zone)
    return render(request, "bench/air_band.html")


def windows(request):
    """Windows of all open zones over six days."""
    what_if = WhatIf.read(request.GET)
    return render(request, "bench/windows.html", windows_of.view(book_of(request), request.GET, what_if))


def windows_rows(request):
    """The rows of Windows alone, as they are or would be: a fragment."""
    what_if = WhatIf.read(request.GET)
    return render(request, "bench/windows_rows.html", windows_of.view(book_of(request), request.GET, what_if))


def zones_moved(request):
    """Where zones were listed before: it leads to Jobs, with what was asked."""
    query = request.GET.urlencode()
    return HttpResponseRedirect(reverse("bench:jobs") + (f"?{query}" if query else ""))


def jobs(request):
    """Jobs; open zones, all or those of one stage."""
    book = book_of(request)
    stage = request.GET.get("stage", "")
    scale = _scale(book)
    filed = request.GET.get("filed", "")
    narrow = Narrow.read(request.GET, "stage", "filed")
    here = (lambda each: True) if stage not in STAGES else lambda each: book.stage_of(each) == stage
    states, fitting = book.in_order(lambda each: narrow.fits_zone(each.zone) and here(each), narrow.most)
    found = selectors.jobs(narrow, filed)
    jobs = found[: narrow.most]
    context = {
        "rows": [(s, marks(s, scale)) for s in states],
        "stage": stage,
        "count": fitting,
        "more": fitting - len(states),
        "jobs": jobs,
        "more_jobs": found.count() - len(jobs),
        "scale": scale,
        "narrow": narrow,
        "now_x": scale.x(book.facts.now.timestamp()),
        "filed": filed,
    }
    return render(request, "bench/jobs.html", context)


def mix(request):
    """What can be mixed next, and pots that are open."""
    book = book_of(request)
    narrow = Narrow.read(request.GET)
    rows, more = selectors.to_mix(book, narrow)
    context = {"rows": rows, "more": more, "pots": selectors.pot_rows(book, narrow), "narrow": narrow}
    return render(request, "bench/mix.html", context)


def log(request):
    """Choose a zone to log on; then the latest entries."""
    book, kind, who = book_of(request), request.GET.get("kind", ""), request.GET.get("who", "")
    narrow = Narrow.read(request.GET, "kind", "who")
    states, fitting = book.in_order(lambda each: narrow.fits_zone(each.zone), narrow.most)
    entries = selectors.latest_entries(narrow, kind if kind in Kind.values else "", who)
    pages = Pages(entries, asked.a_count(request.GET, "page") or 1)
    people = User.objects.order_by("username").values_list("username", flat=True)
    context = {"rows": states, "count": fitting, "more": fitting - len(states), "narrow": narrow, "pages": pages}
    context |= {"kinds": Kind.choices, "kind": kind, "people": people, "who": who}
    return render(request, "bench/log.html", context)


def more(request):
    """The rest of the tools, for a phone."""
    return render(request, "bench/more.html")


def help_page(request):
    """Our words, the shapes, the keys."""
    states = [(key, key.replace("-", " "), said) for key, said in words.STATES]
    context = {"states": states, "lines": words.LINES, "our_words": our_words.WORDS, "defer": DEFER}
    return render(request, "bench/help.html", context)


def search(request):
    """Zones, jobs, products, batches by name."""
    query = request.GET.get("q", "").strip()
    labelled = selectors.labelled(query)
    if labelled is not None:  # a code typed or scanned leads there in one step
        return HttpResponseRedirect(reverse(labelled[0], args=[labelled[1]]))
    return render(request, "bench/search.html", {"query": query, "found": selectors.find(query)})
