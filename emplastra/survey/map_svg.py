"""The job map as SVG: by presentation attributes and classes on a page, with a style of its own as a file."""

from django.utils.html import escape
from django.utils.safestring import mark_safe

from emplastra.core import units
from emplastra.core.piece.job_map import LINE, WIDTH

HATCHES = {
    "Survey": "h-dots",
    "Strip": "h-rise",
    "Metal": "h-metal",
    "Prime": "h-lines",
    "Fill": "h-waves",
    "Surface": "h-grid",
    "Colour": "h-fall",
    "Protect": "h-wide",
    "Record": "h-plain",
}
"""stage -> its hatch."""
_FILLS = {
    "Survey": "#efe9da",
    "Strip": "#dcdfe2",
    "Metal": "#c9ced3",
    "Prime": "#dccac4",
    "Fill": "#ead9ae",
    "Surface": "#dadad2",
    "Colour": "#e0b9b0",
    "Protect": "#bfd3cd",
    "Record": "#c5cfd9",
}
_STYLE = (
    "text{font:14px Barlow,'DejaVu Sans',sans-serif;fill:#24211c}.m-word{font-weight:600}.m-head{font-weight:600;font-size:16px}"
    ".m-edge{fill:none;stroke:#24211c;stroke-width:1.5}.m-paint{stroke-dasharray:7 4}.m-unseen{stroke-dasharray:2 4}"
    ".m-urgent{stroke:#8c3a2b;stroke-width:4}.m-leader{stroke:#6a6356}.m-plate{fill:#faf7ef;opacity:.86}"
    ".m-hatch{opacity:.4}.p-ink{fill:#24211c;stroke:none;opacity:.42}line.p-ink,.p-line{stroke:#24211c;fill:none}.p-metal{stroke:#24211c;opacity:.55}"
)
_WORD = ' class="m-word"'


def _outline(outline, attrs):
    kind, what = outline
    if kind == "rect":
        return f'<rect x="{what.x:g}" y="{what.y:g}" width="{what.w:g}" height="{what.h:g}" {attrs} />'
    if kind == "ellipse":
        return (
            f'<ellipse cx="{what.x + what.w / 2:g}" cy="{what.y + what.h / 2:g}" rx="{what.w / 2:g}" '
            f'ry="{what.h / 2:g}" {attrs} />'
        )
    points = " ".join(f"{x:g},{y:g}" for x, y in what)
    return f'<polygon points="{points}" {attrs} />'


def _zone(drawn, zone):
    """One zone: ground, hatch, outline, then its label over them."""
    ground = _outline(drawn.outline, f'class="m-ground m-{zone.stage.lower()}" fill="{_FILLS[zone.stage]}"')
    hatch = _outline(drawn.outline, f'class="m-hatch" fill="url(#{HATCHES[zone.stage]})"')
    edge = _outline(drawn.outline, f'class="m-edge m-{zone.seen}{" m-urgent" if zone.urgent else ""}"')
    spots = ""
    if zone.spots:
        box = drawn.outline[1] if drawn.outline[0] != "polygon" else None
        x, y = (box.x + box.w - 9, box.y + 9) if box else drawn.outline[1][1]
        spots = (
            f'<path d="M{x:g} {y - 7:g} l7 7 l-7 7 l-7 -7 Z" class="m-spot" '
            f'fill="#8c3a2b"><title>{zone.spots} spots</title></path>'
        )
    return ground + hatch + edge + spots


def _label(drawn):
    if drawn.label is None:
        return ""
    box = drawn.label
    x = {"middle": box.x + box.w / 2, "start": box.x + 2, "end": box.x + box.w - 2}[drawn.anchor]
    plate = (
        f'<rect x="{box.x - 2:g}" y="{box.y:g}" width="{box.w + 4:g}" height="{box.h:g}" class="m-plate" />'
        if drawn.anchor == "middle"
        else ""
    )
    last = len(drawn.lines) - 1
    lines = " ".join(
        f'<text x="{x:g}" y="{box.y + LINE * (i + 1) - 4:g}" text-anchor="{drawn.anchor}"'
        f"{_WORD if i == last else ''}>{escape(line)}</text>"
        for i, line in enumerate(drawn.lines)
    )
    leader = ""
    if drawn.leader:
        a, b, c, d = drawn.leader
        leader = (
            f'<path d="M{a:g} {b:g} L{c:g} {d:g}" class="m-leader" fill="none" /><circle cx="{c:g}" '
            f'cy="{d:g}" r="2.5" class="m-dot" />'
        )
    return f"{leader}{plate}{lines}"


def _spoken(drawn, zone):
    """What a zone's link is called: what is read on it, so that it can be asked for, then what that leaves out."""
    read = " ".join(drawn.lines)
    told = f"{zone.name} {zone.stage}"
    return f"{read}: {told}" if read and read != told else told


def _body(view, zones, links):
    shapes = "".join(_zone(drawn, zones[drawn.tile.key]) for drawn in view.drawn)
    labels = []
    for drawn in view.drawn:
        zone = zones[drawn.tile.key]
        # The whole shape is the target: what is tapped lies over all that is drawn.
        target = _outline(drawn.outline, 'class="m-tap" fill="transparent"')
        body = f"{_label(drawn)}{target}"
        name = escape(_spoken(drawn, zone))
        labels.append(f'<a href="{zone.url}" aria-label="{name}">{body}</a>' if links else f"<g>{body}</g>")
    more = f"and {view.unnamed} more, by name in the list" if view.unnamed else ""
    return (
        f'{shapes}{"".join(labels)}<text x="{WIDTH / 2:g}" y="{view.height - 6:g}" text-anchor="middle">{more}</text>'
    )


def view_svg(view, zones):
    """One view for a page. zones: {id: MapZone}."""
    return mark_safe(  # numbers of ours; names are escaped
        f'<svg viewBox="0 0 {WIDTH:g} {view.height:g}" class="map-view" data-view="{view.key}" role="group" '
        f'aria-label="{view.name}">'
        f'<text x="{WIDTH / 2:g}" y="18" text-anchor="middle" '
        f'class="m-head">{view.name}</text>{_body(view, zones, True)}</svg>'
    )


def whole_svg(title, views, zones, patterns):
    """All views one under the other, as a file."""
    y, parts = 34.0, [f'<text x="8" y="22" class="m-head">{escape(title)}</text>']
    for view in views:
        parts.append(
            f'<g transform="translate(0 {y:g})"><text x="{WIDTH / 2:g}" y="18" text-anchor="middle" '
            f'class="m-head">{view.name}</text>{_body(view, zones, False)}</g>'
        )
        y += view.height + 10
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {WIDTH:g} {y:g}" width="{WIDTH:g}" '
        f'height="{y:g}"><title>{escape(title)}</title>'
        f'<style>{_STYLE}</style>{patterns}<rect width="{WIDTH:g}" height="{y:g}" fill="#faf7ef" '
        f"/>{''.join(parts)}</svg>"
    )


def zone_lines(zones, units_shown, numbered=False):
    """The list under the map, or beside it with the numbers of its plates; written in code: a large piece has
    hundreds. What may be done is fetched when asked for.
    """
    parts = []
    for zone in zones.values():
        if zone.zone.parent_id is None or zone.zone.parent_id not in zones:
            parts += [_line(each, units_shown, numbered) for each in (zone, *zone.spot_rows)]
    return mark_safe("".join(parts))  # names are escaped; the rest is ours


def _line(zone, units_shown, numbered):
    spot = zone.zone.parent_id is not None
    count = zone.survey.open_count
    number = f'<span class="m-number">{zone.number}</span> ' if numbered else ""
    area = units.show(zone.survey.area_m2, "area", units_shown)
    return (
        f'<div class="zone-line{" is-spot" if spot else ""}"><a class="zone-name" '
        f'href="{zone.url}"><b>{"◆ " if spot else number}{escape(zone.name)}</b></a>'
        f'<span class="zone-stage">{zone.stage}</span><span class="soft">{zone.words} · {area}</span>'
        f"<span>{f'<b>{count}</b> open' if count else ''}</span>"
        f'<details class="zone-acts" hx-get="{zone.url}acts" hx-trigger="toggle once" hx-target="find '
        f'.acts"><summary>Change</summary><div class="acts">'
        f'<noscript><a href="{zone.url}change">What can be done with it</a></noscript></div></details></div>'
    )
