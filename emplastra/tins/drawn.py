"""Tins as they stand on the shelf, drawn in code: a large store has a thousand."""

from django.utils.html import format_html
from django.utils.safestring import mark_safe

from emplastra.core.working import Basis
from emplastra.say.tins import amount

HIGH = 40.0


def content(view, system):
    """What a tin holds in words, and how that is known: (words, name of its basis)."""
    left = view.left
    if left.is_empty:
        return "empty", "measured"
    if left.amount is None:
        return "holds an unknown amount", "assumed"
    said = f"{'at most ' if left.at_most else ''}{amount(left.amount, view.unit, system)}"
    whole = f" of {amount(view.size, view.unit, system)}" if view.size else ""
    return said + whole, "measured" if left.basis is Basis.MEASURED else "estimated"


def tin_svg(view, is_past):
    """A tin filled to what it holds: lid on or off, dashed where its content is estimated, dotted where unknown."""
    share = view.share if not view.left.is_empty else 0.0
    level = HIGH - 4 - (HIGH - 10) * (share if share is not None else 1.0)
    how = "unknown" if share is None else "measured" if view.left.basis is Basis.MEASURED else "estimated"
    lid = "" if view.opened else '<rect x="1" y="2" width="26" height="4" class="t-lid" />'
    past = f'<path d="M3 {HIGH - 4:g} L25 8" class="t-past" />' if is_past else ""
    fill = f'<rect x="3" y="{level:.1f}" width="22" height="{HIGH - 4 - level:.1f}" class="t-fill is-{how}" />'
    return mark_safe(  # numbers of ours
        f'<svg viewBox="0 0 28 {HIGH:g}" class="tin-drawn" aria-hidden="true" focusable="false">{fill}'
        f'<rect x="3" y="6" width="22" height="{HIGH - 10:g}" class="t-wall" />{lid}{past}</svg>'
    )


def tin_row(view, is_first, day, system):
    """A tin as a row of the store."""
    tin, past = view.tin, view.is_past(day)
    words, basis = content(view, system)
    word = "recalled" if view.recall else "out of date" if past else "use this first" if is_first else ""
    said = ""
    if view.left.below > 0:
        over = amount(view.left.below, view.unit, system)
        said = format_html('<span class="word is-warns">{} more was taken than it held: look into it</span>', over)
    elif word:
        said = format_html('<span class="word is-{}">{}</span>', "stops" if past or view.recall else "clean", word)
    name = f"{tin.code} · batch {tin.batch}" + (f" no. {tin.number}" if tin.number > 1 else "")
    place = (" is-past" if past else "", tin.pk, tin_svg(view, past), name)
    return format_html(
        '<li class="tin-row{}"><a href="/tins/{}/">{}<b>{}</b></a><span class="basis-{}">{}</span>'
        '<span class="soft">{}</span>{}</li>',
        *(*place, basis, words, " · ".join(_about(view, system)), said),
    )


def _about(view, system):
    """What is told of a tin beside its content."""
    kept = f"{amount(view.kept, view.unit, system)} kept for {view.kept_for or 'something to come'}"
    told = (
        (True, f"use by {view.last.day:%-d %b %Y}" if view.last else "no use-by date"),
        (view.kept, kept),
        (view.opened, f"open since {view.opened:%-d %b %Y}" if view.opened else ""),
        (view.place, str(view.place)),
        (view.tin.kit, f"kit {view.tin.kit}"),
    )
    return [words for holds, words in told if holds]
