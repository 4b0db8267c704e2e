"""A ruling on a page: the comb, one tooth for each aspect, and what a verdict's fix is."""

from django.template import Library
from django.utils.html import escape
from django.utils.safestring import mark_safe

from emplastra.say import rulings
from emplastra.say.rulings import act_words, fix_of

register = Library()

TOOTH, GAP, FOOT = 20, 4, 24
_SHAPES = {
    "clean": '<rect x="{x}" y="18" width="20" height="6" />',
    "advises": '<path d="M{x} 18 h7 l3 -6 l3 6 h7 v6 h-20 Z" />',
    "warns": '<path d="M{x} 18 L{end} 6 V24 H{x} Z" />',
    "stops": '<rect x="{x}" y="1" width="20" height="23" />',
    "not judged": '<rect x="{inside}" y="9" width="18" height="14" />',
}
"""A tooth by its word, in a row 24 high: flat, notched, a wedge, a block, dotted."""


@register.simple_tag
def comb(teeth):
    """The ruling as a comb. teeth: [(aspect, its word)]."""
    parts, said = [], {}
    for n, (aspect, word) in enumerate(teeth):
        x = n * (TOOTH + GAP)
        shape = _SHAPES[word].format(x=x, end=x + TOOTH, inside=x + 1)
        parts.append(f'<g class="t-{word.replace(" ", "-")}"><title>{escape(aspect)}: {word}</title>{shape}</g>')
        said.setdefault(word, []).append(aspect)
    label = "; ".join(f"{word}: {', '.join(aspects)}" for word, aspects in said.items())
    width = max(1, len(teeth) * (TOOTH + GAP) - GAP)
    return mark_safe(
        f'<svg class="comb" viewBox="0 0 {width} {FOOT}" role="img" aria-label="{escape(label)}">{"".join(parts)}</svg>'
    )


@register.simple_tag
def fix_for(zone, verdict, ruled=None):
    """The fix of a verdict on a zone, None where it has none."""
    return fix_of(zone, verdict, ruled or None)


@register.filter
def no_fix(verdict):
    """Why a stop has no fix, "" where it has one."""
    return rulings.NO_FIX.get(verdict.rule, "") if verdict.severity == "stops" else ""


@register.filter
def headline(ruled):
    """What is said of an act as a headline."""
    return rulings.headline(ruled)


@register.filter
def act_name(act):
    """An act in words."""
    return act_words(act)
