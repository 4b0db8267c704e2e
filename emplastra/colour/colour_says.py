"""What the page of a colour group says in its first line, and the ways out of a wrong count."""

from dataclasses import dataclass

from emplastra.core.words import volume_q
from emplastra.shared.times import span


@dataclass(frozen=True)
class Way:
    """A way out: what is done, what that means, whether it is within the limit; do: the key of its button."""

    what: str
    means: str
    fits: bool
    do: str = ""
    row: object = None


def _counted(count):
    return "1 mid-coat" if count == 1 else f"{count} mid-coats"


def lead_of(group):
    """The sentence that answers the page's question, in parts (text, is bold)."""
    if not group.rows:
        return [("No face is in this group yet.", False)]
    opened = [f for f, done in group.seen if not done]
    if group.over:
        found = " and ".join(f"{row.mids} on {row.zone.name}" for row in group.over)
        return [(found, True), (", ", False), (str(group.chosen), True), (f" chosen. {NO_CLEAR}", False)]
    if opened:
        rest = f" and {len(opened) - 1} more" if len(opened) > 1 else ""
        said = f"{opened[0].answer.sentence} on {opened[0].zone.name}{rest}"
        return [(said, True), (": back to full coverage there, then the mid-coats.", False)]
    return _counted_lead(group) if group.is_translucent else _ground_alone(group)


def _counted_lead(group):
    if group.chosen is None:
        return [("No number of mid-coats is chosen: ", False), ("spray a card, or tell it by eye", True), (".", False)]
    there = [row for row in group.faces if row.stands == "there"]
    if len(there) == len(group.faces):
        return [(_counted(group.chosen), True), (" on every face: clear may go on.", False)]
    return [(_counted(group.chosen), True), (f" chosen, on {len(there)} of {len(group.faces)} faces so far.", False)]


NO_CLEAR = "No clear on any face until they are equal."


def _ground_alone(group):
    hidden = [row for row in group.faces if row.hidden is not None and row.hidden.is_full]
    return [(f"{len(hidden)} of {len(group.faces)} faces", True), (" are hidden in full by film.", False)]


def ways_out(group):
    """[Way] of a group in which a face has too many mid-coats; none where none has."""
    if not group.over:
        return []
    row = group.over[0]
    again = group.ground_again
    takes = f": {span(60 * group.again_takes[0])}, {volume_q(group.again_takes[1])}" if group.again_takes else ""
    coats = f"{again} ground coat{'s' if again != 1 else ''}" if again else "ground coats until it is hidden"
    ways = [Way("Ground it again", f"{coats}, then {group.chosen}{takes}", True, "ground-again", row)]
    card = group.card.card if group.card else None
    off = card.off(row.mids) if card else None
    if off is not None:
        ways.append(
            Way(
                f"{row.mids} on every face",
                f"{off:.1f} off the sample, limit {group.limit:g}",
                off <= group.limit,
                "choose",
                row,
            )
        )
    if card is not None:
        apart = card.apart(group.chosen, row.mids)
        shows = "it shows" if apart > group.limit else "hardly seen"
        ways.append(
            Way(
                "Leave it, with a reason",
                f"{apart:.1f} beside the others: {shows}",
                apart <= group.limit,
                "accept",
                row,
            )
        )
    return ways
