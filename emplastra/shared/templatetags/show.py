"""How figures, hours and states are written on every page."""

from fractions import Fraction
from functools import partial
from zoneinfo import available_timezones

from django.template import Library
from django.utils.html import format_html, format_html_join

from emplastra.core import units, words
from emplastra.core.product.film import METHODS
from emplastra.core.surface.masks import COVERS
from emplastra.core.surface.steps import STEPS
from emplastra.core.text import shortened
from emplastra.shared import clock, navigation, times
from emplastra.shared.links import Go
from emplastra.shared.times import from_epoch
from emplastra.shared.words import WORDS

register = Library()
MEANINGS = {anchor: (name, meaning) for anchor, name, meaning in WORDS}
CU_FT_M3 = 35.3146667
"""Cubic feet of a cubic metre."""


@register.filter
def hour(value, workshop):
    """An aware moment or epoch seconds as HH:MM in the workshop's zone."""
    here = _local(value, workshop)
    return f"{here:%H:%M}" if here else "–"


@register.filter
def when(value, workshop):
    """An hour as it is spoken of: 15:49, yesterday 15:49, Wed 15:49, 12 May 15:49. value: aware, or epoch seconds."""
    here = _local(value, workshop)
    return times.moment(here.timestamp(), workshop.zone, clock.now()) if here else "–"


@register.filter
def short(name, room):
    """A name in so many characters, its middle left out."""
    return shortened(str(name), room)


@register.filter
def method_name(key):
    """A way to put paint on, in words."""
    return METHODS[key].name if key in METHODS else key


@register.filter
def leaves_film(kind):
    """True for a kind of step that leaves a film."""
    return STEPS[kind].leaves_film


@register.filter
def step_name(kind):
    """A kind of step in words."""
    return STEPS[kind].name


@register.filter
def href(go):
    """The address of a Go."""
    return go.address


@register.filter
def day_year(value, workshop):
    """An aware moment or epoch seconds as "Tue 12 May 2026 14:50", for what is kept for years."""
    here = _local(value, workshop)
    return f"{here:%a} {here.day} {here:%b %Y %H:%M}" if here else "–"


@register.filter
def minutes(value):
    """Minutes as people say them: 45 min, 2.5 h, 72 h, 30 days."""
    if value < 120:
        return f"{value:.{2 if value < 10 else 3}g} min"
    return f"{value / 60:.3g} h" if value <= 14 * 1440 else f"{value / 1440:.3g} days"


@register.filter
def day_hour(value, workshop):
    """An aware moment or epoch seconds as "Tue 12 May 14:50"."""
    here = _local(value, workshop)
    return f"{here:%a} {here.day} {here:%b %H:%M}" if here else "–"


@register.filter
def day_only(value, workshop):
    """An aware moment or epoch seconds as "Tue 12 May"."""
    here = _local(value, workshop)
    return f"{here:%a} {here.day} {here:%b}" if here else "–"


def _local(value, workshop):
    if value is None:
        return None
    moment = from_epoch(value) if isinstance(value, (int, float)) else value
    return moment.astimezone(workshop.zone)


def _marked(mark, value):
    """A quantity in the core's unit, written down at the edge; "" for none."""
    return "" if value in (None, "") else mark(value)


for _mark in (words.film_q, words.length_q, words.area_q, words.volume_q, words.celsius_q, words.kelvin_q):
    register.filter(_mark.__name__, partial(_marked, _mark))


@register.filter
def film_bare(value):
    """A film [µm] whose unit stands elsewhere."""
    return words.film_q(value, unit=False)


@register.filter
def unit_of(workshop, dimension):
    """The unit in which a workshop reads a dimension."""
    return units.display_unit(dimension, workshop.units)


@register.filter
def unit_said(unit):
    """A unit as it is written beside a number."""
    return units.symbol(unit or "")


@register.simple_tag
def celsius_range(*values):
    """Temperatures from the lowest to the highest [°C] with one unit."""
    return words.celsius_q(*values)


@register.simple_tag
def film_range(*values):
    """Films from the least to the most [µm] with one unit."""
    return words.film_q(*values, digits=None, joined=" to ")


@register.filter
def worked(line, workshop):
    """The value of a line of a working (Given or Line): where the workshop's units are others, with the metric it
    is worked out in.
    """
    return units.in_both(line.value, line.unit, workshop.units)


@register.filter
def and_list(words):
    """ "air, film and window" from words."""
    *most, last = words or ("nothing",)
    return f"{', '.join(most)} and {last}" if most else last


@register.filter
def film(value, workshop):
    """µm as the workshop shows film; a film that nobody told cannot be said."""
    return "cannot say" if value is None else units.show(value, "film", workshop.units)


@register.filter
def film_span(values):
    """Films [µm] from the least to the most, one as it is."""
    return words.film_q(*dict.fromkeys(values), digits=None)


@register.filter(name="words")
def _words(text):
    """Names in a row, as a list."""
    return text.split()


@register.filter
def pair(one, other):
    """Two values as one list."""
    return [one, other]


@register.filter
def bound(form, name):
    """The bound field of a form by its name, None if it has none."""
    return form[name] if name in form.fields else None


@register.filter
def gap(value, workshop):
    """A gap [µm] as it is measured: in mm or inches."""
    return units.show(value / 1000.0, "length", workshop.units, 3 if workshop.units == "us" else 2)


@register.filter
def area(value, workshop):
    """m2 as the workshop shows area."""
    return units.show(value, "area", workshop.units)


@register.filter
def volume(value, workshop):
    """mL as the workshop shows volume."""
    return units.show(value, "volume", workshop.units)


@register.filter
def temp(value, workshop):
    """°C as the workshop shows temperature."""
    return units.show(value, "temperature", workshop.units)


@register.filter
def grams(value):
    """A mass as a scale shows it."""
    return f"{value:.1f}"


@register.filter
def percent(value, digits=0):
    """A share 0..1 as percent."""
    return f"{100 * value:.{digits}f} %"


@register.filter
def share(value):
    """A share 0..1 of a face as percent, one that is small to its tenth."""
    return percent(value, 1 if 0 < value < 0.01 else 0)


@register.filter
def signed(value):
    """A deviation with its sign."""
    shown = f"{value:+.1f}".replace("-", "−")
    return f"{'0.0' if shown[1:] == '0.0' else shown} %"


@register.filter
def signed_k(value):
    """A difference of temperature with its sign."""
    return f"{'−' if value < 0 else '+'}{words.kelvin_q(abs(value))}"


@register.filter
def get(mapping, key):
    """mapping[key], None if there is none."""
    return mapping.get(key) if mapping else None


@register.filter
def attr(value, name):
    """An attribute of a value."""
    return getattr(value, name, None)


@register.filter
def tag_value(tags, name):
    """The value of "name:value" in a message's tags."""
    return next((tag.split(":", 1)[1] for tag in (tags or "").split() if tag.startswith(f"{name}:")), "")


@register.filter
def control(bound, css=""):
    """A bound field's widget with Bulma's class, and aria for its error."""
    kind = getattr(bound.field.widget, "input_type", "textarea")
    attrs = {"class": f"{'' if kind in {'select', 'checkbox', 'file', 'radio'} else 'input'} {css}".strip()}
    if bound.errors:
        attrs |= {"aria-invalid": "true", "aria-describedby": f"{bound.id_for_label}_error"}
    return bound.as_widget(attrs=attrs)


MOST_LINKS = 6


@register.filter
def error_links(form):
    """[(id, label)] of the fields of a form that are refused, the first few of them."""
    label_of = getattr(form, "label_of", lambda name: form[name].label)
    wrong = [name for name in form.errors if name in form.fields and not form[name].is_hidden]
    return [(f"f-{form[name].html_name}", label_of(name)) for name in wrong[:MOST_LINKS]]


@register.filter
def input_kind(bound):
    """select, checkbox, checks (several), text ... for the field partial."""
    widget = bound.field.widget
    if getattr(widget, "allow_multiple_selected", False) and widget.input_type == "checkbox":
        return "checks"
    return getattr(widget, "input_type", "textarea")


@register.simple_tag
def phrase(parts):
    """Sentence parts (text, is bold) as HTML."""
    return format_html_join(
        "", "{}", ((format_html("<strong>{}</strong>", text) if bold else text,) for text, bold in parts)
    )


@register.filter
def add_float(value, other):
    """value + other, as a number fit for an SVG attribute."""
    return f"{float(value) + float(other):.2f}"


@register.filter
def minus(value, other):
    """value − other, as a number fit for an SVG attribute."""
    return f"{float(value) - float(other):.2f}"


@register.filter
def scaled(value, by):
    """value · by, as a number fit for an SVG attribute."""
    return f"{float(value) * by:.1f}"


@register.filter
def stick(pot, key):
    """Stick mark of a part in a pot's plan [mm]."""
    mm = pot.target_of(key).stick_mm
    return f"{mm:.0f}" if mm is not None else ""


@register.filter
def part_name(key, pot):
    """Name of a pot's part."""
    return next(part.name for part in pot.ratios if part.key == key)


@register.simple_tag
def zone_names():
    """Time zones by place, in order; old names and offsets are understood where they are typed."""
    return sorted(
        name
        for name in available_timezones()
        if "/" in name
        and not name.startswith(
            ("Etc/", "posix/", "right/", "SystemV/", "US/", "Brazil/", "Canada/", "Chile/", "Mexico/")
        )
    )


@register.filter
def pairs(text):
    """ "a:A,b:B" as (a, A), (b, B)."""
    return [tuple(item.split(":")) for item in text.split(",")]


@register.filter
def labelled(bound, label):
    """A bound field's list, named for those who do not see it."""
    return bound.as_widget(attrs={"aria-label": label})


@register.filter
def any_errors(rows):
    """True if any of the questions is answered wrongly."""
    return any(row.errors for row in rows)


@register.filter
def answered(rows):
    """How many questions of a group have an answer."""
    done = sum(row.answered for row in rows)
    asked = sum(row.tiles for row in rows) or len(rows)
    return f"{done} answered" if done >= asked else f"{done} of {asked}"


@register.filter
def money(value, currency):
    """A sum of money to whole units, with its currency."""
    return f"{float(value):,.0f}".replace(",", "\u202f") + f" {currency}"


@register.simple_tag(takes_context=True)
def tools(context, foot=False):
    """[(a tool as it is shown, its key)], all or those of the foot bar."""
    here = _address(context)
    pages = [page for page in navigation.TOOLS if not foot or page.name in navigation.FOOT]
    more = any(page.is_at(here) for page, _ in navigation.MORE)
    return [
        (navigation.Shown(p.name, Go(p.address), p.is_at(here) or (p.name == "More" and more)), navigation.KEYS[p.name])
        for p in pages
    ]


WORD = (
    '<span class="what-is no-print"><button type="button" class="what-is-tap" popovertarget="word-{word}">'
    '{name}?<span class="is-sr-only"> What is this?</span></button>'
    '<span popover class="what-is-card" id="word-{word}"><b>{name}</b> {meaning} <a href="{go}">All our words</a></span>'
    "</span>"
)


@register.simple_tag(takes_context=True)
def what_is(context, word):
    """One of our words explained where it stands, in the words of the Help page; once on a page, then as a link."""
    name, meaning = MEANINGS[word]
    go, request = Go("bench:help", anchor=word).address, context.get("request")
    said = request.__dict__.setdefault("words_explained", set()) if request is not None else set()
    if word in said:
        return format_html('<a class="what-is no-print" href="{}">{}?</a>', go, name)
    said.add(word)
    return format_html(WORD, word=word, name=name, meaning=meaning, go=go)


@register.simple_tag
def tools_off_foot():
    """Tools that have no place on a phone's foot bar."""
    pages = [page for page in navigation.TOOLS if page.name not in navigation.FOOT]
    return [navigation.Shown(page.name, Go(page.address), False) for page in pages]


@register.simple_tag
def more_tools():
    """[(page, what it is for)] of what stands under More."""
    return [(navigation.Shown(page.name, Go(page.address), False), words_for) for page, words_for in navigation.MORE]


@register.inclusion_tag("tabs.html", takes_context=True)
def zone_tabs(context, zone):
    """The tabs of a zone, its one Log button, and the pages under the tab that is open."""
    user = context.get("user")
    tabs, pages = navigation.tabs_at(navigation.ZONE, zone.pk, _address(context))
    may = user is not None and user.is_authenticated and user.may_write and not zone.retired
    return {"tabs": tabs, "pages": pages, "of": "Zone", "log": Go("work:log-start", (zone.pk,)) if may else None}


@register.inclusion_tag("tabs.html", takes_context=True)
def job_tabs(context, job):
    """The tabs of a job and the pages under the one that is open."""
    tabs, pages = navigation.tabs_at(navigation.JOB, job.pk, _address(context))
    return {"tabs": tabs, "pages": pages, "of": "Job"}


def _address(context):
    request = context.get("request")
    match = request.resolver_match if request is not None else None
    return match.view_name if match else ""


@register.filter
def exactly(value, currency):
    """A sum of money, an exact fraction, to the hundredth: rounded half up, at the edge only."""
    cents = int(value * 100 + Fraction(1, 2))
    whole = f"{cents // 100:,}".replace(",", "\u202f")
    return f"{whole}.{cents % 100:02d} {currency}".strip()


@register.filter
def kilos(grams):
    """A mass [g]: in g under a kilogram, else in kg. Scales show them so in every workshop."""
    return f"{grams:.0f} g" if grams < 1000 else f"{grams / 1000:.2f} kg"


@register.filter
def cubic(value, workshop):
    """A volume of air [m3] as the workshop shows it."""
    return f"{value * CU_FT_M3:,.0f} cu ft" if workshop.units == "us" else f"{value:.1f} m³"


@register.filter
def flow(value, workshop):
    """Air a minute [m3/min] as the workshop shows it."""
    return f"{value * CU_FT_M3:,.0f} cfm" if workshop.units == "us" else f"{value:.2f} m³/min"


@register.filter
def metres(value, workshop):
    """A run of tape, wire or seam [m] as the workshop shows it."""
    return f"{units.convert(value, 'm', 'ft'):.0f} ft" if workshop.units == "us" else f"{value:.1f} m"


@register.filter
def cover_name(key):
    """What a mask is made of."""
    return COVERS[key].name
