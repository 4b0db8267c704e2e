"""Statements of a zone as a list. Written in code: a report holds thousands."""

from django.template import Library
from django.utils.html import escape
from django.utils.safestring import mark_safe

from emplastra.shared.links import Go

register = Library()

_RING = '<circle cx="9" cy="9" r="7" fill="none" stroke="currentColor" stroke-width="2" />'
_INNER = {
    "explained": '<path d="M9 2 A7 7 0 0 1 9 16 Z" fill="currentColor" />',
    "answered": '<path d="M9 9 L9 2 A7 7 0 1 1 2 9 Z" fill="currentColor" />',
    "verified": '<circle cx="9" cy="9" r="7" fill="currentColor" />',
    "seen": '<circle cx="9" cy="9" r="2.5" fill="currentColor" />',
}
"""What fills the ring of a status; an open finding has an empty one."""


@register.simple_tag
def life_mark(status):
    """A finding's own shape: an empty ring, half, three quarters, full; a dot for what is no trouble."""
    return mark_safe(
        f'<svg viewBox="0 0 18 18" class="life-mark" aria-hidden="true" '
        f'focusable="false">{_RING}{_INNER.get(status, "")}</svg>'
    )


@register.simple_tag
def statements(rows):
    """Statements as items of a list: mark, sentence, evidence, where each stands."""
    return mark_safe("".join(map(_item, rows)))  # what was typed is escaped


def _item(s):
    life, more = s.life, ""
    if life.status != "seen":
        more = f" · {life.status}" + (f": {life.why}" if life.why else "")
    seen = f"{s.finding.get_evidence_display().lower()}{more}"
    return (
        f'<li><span class="life is-{life.status}">{life_mark(life.status)}</span>{escape(s.answer.sentence)} '
        f'<span class="soft">{escape(seen)}</span></li>'
    )


_ACTS = {"answer": "Answer it", "step": "Its step", "cause": "Its cause", "look": "Look again"}
"""What a finding waits for -> its button."""


@register.simple_tag
def finding_links(rows):
    """Findings as links to the page of each: mark, sentence and what is still open, evidence, pass."""
    return mark_safe("".join(map(_link, rows)))  # what was typed is escaped


def _link(s):
    life, row = s.life, s.finding
    why = f' <span class="soft">{escape(life.why)}</span>' if life.why else ""
    seen = f"{row.get_evidence_display()}, {row.get_stage_display()}".lower()
    act = f'<span class="button is-small">{_ACTS[life.waits]}</span>' if life.waits else ""
    return (
        f'<a class="finding is-{life.status}" href="{Go("survey:finding", (row.pk,)).address}"><span class="life">'
        f"{life_mark(life.status)}{life.status}</span><span><b>{escape(s.answer.sentence)}</b>{why}</span>"
        f'<span class="soft">{escape(seen)}</span>{act}</a>'
    )


@register.simple_tag
def basis_of(evidence):
    """How well a finding is known, as figures are: measured, estimated or assumed."""
    if evidence in {"bare", "mirror"}:
        return "measured"
    return "assumed" if evidence in {"not-seen", "other-side"} else "estimated"
