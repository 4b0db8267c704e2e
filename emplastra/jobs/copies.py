"""What was copied before metal was cut away."""

from emplastra.core.care.copying import CUTS, Copy, prompt
from emplastra.shared.services import Refused, writes

from .models import Copied, CopiedWord, Finding


@writes
def copy(zone, user, kind, what, datum="", measures=(), scale_mm=None, photo=None, cut=True):
    """Record something before it is cut. measures: ((what, mm), ...). Raises Refused naming the field."""
    if kind not in Copied.Kind.values:
        raise Refused(f"must be one of {', '.join(Copied.Kind.values)}", "kind")
    if scale_mm is not None and photo is None:
        raise Refused("stands in a photo: send it too", "scale_mm")
    rows = [list(row) for row in measures]
    return Copied.objects.create(
        zone=zone, who=user, kind=kind, what=what, datum=datum, measures=rows, scale_mm=scale_mm, photo=photo, cut=cut
    )


@writes
def say_of_copy(copied, user, said, note=""):
    """What became of it. Raises Refused where that was said already, or it was written down by mistake."""
    if said not in CopiedWord.Said.values:
        raise Refused(f"must be one of {', '.join(CopiedWord.Said.values)}")
    told = set(copied.words.values_list("said", flat=True))
    if said in told or CopiedWord.Said.STRUCK in told:
        raise Refused("that was said of it already")
    return CopiedWord.objects.create(copied=copied, said=said, note=note[:120], who=user)


def copied_on(zones):
    """{zone id: [(row, the core's Copy)]} of zones, but for what was written down by mistake; two queries."""
    found = {zone.pk: [] for zone in zones}
    rows = Copied.objects.filter(zone__in=zones).select_related("photo", "who").prefetch_related("words").order_by("id")
    for row in rows:
        said = frozenset(word.said for word in row.words.all())
        if CopiedWord.Said.STRUCK not in said:
            measures = tuple((name, mm) for name, mm in row.measures)
            told = Copy(row.kind, row.what, row.datum, measures, row.scale_mm, row.photo_id is not None, said)
            found[row.zone_id].append((row, told))
    return found


def marks_told(zone):
    """What the survey told of marks and textures there, in words; "" where nothing."""
    row = Finding.objects.filter(zone=zone, topic="marks").order_by("id").last()
    if row is None or "none" in row.choice.split("+"):
        return ""
    return row.text or row.answer.sentence


def prompt_at(zone, step_kind):
    """What is said on a zone at a step that cuts metal away, "" where nothing is; nothing is read at others."""
    if step_kind not in CUTS:
        return ""
    return prompt(step_kind, [told for _, told in copied_on([zone])[zone.pk]], marks_told(zone))
