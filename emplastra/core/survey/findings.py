"""The life of a finding: open, explained by a cause, answered by a step, verified.

A finding whose cause goes on stays open until the cause is mended, whatever was done to the metal.
Causes: common practice, no source.
"""

from collections.abc import Collection, Sequence
from dataclasses import dataclass, replace

CAUSES: dict[str, tuple[str, bool]] = {
    "blocked-drain": ("Blocked drain", True),
    "failed-seal": ("Failed seal or sealer", True),
    "missing-bung": ("Missing bung or plug", True),
    "water-trap": ("Dirt or water trap", True),
    "bare-hidden": ("Hidden face never coated", True),
    "two-metals": ("Two metals in touch", True),
    "condensation": ("Condensation, no way out", True),
    "chip": ("Chip or scratch", False),
    "lifting": ("Lifted or jacked wrongly", False),
    "old-repair": ("Old repair", False),
    "old-paint": ("Old paint at its end", False),
    "knock": ("Knock or bend", False),
    "made-so": ("Made so", False),
}
"""key -> (name, does it go on until it is mended). "Unknown" is no cause: nothing is explained by it."""
WORDS = {
    "explained": "Cause named",
    "mended": "Cause mended",
    "answered": "Answered by a step",
    "verified": "Verified",
    "reopened": "Open again",
}
STILL_OPEN = ("open", "explained", "answered")
STATUSES = ("open", "explained", "answered", "verified", "seen")


@dataclass(frozen=True)
class Word:
    """Something said of a finding: a key of WORDS, with the cause or the id of the step."""

    said: str
    cause: str = ""
    step: str = ""


@dataclass(frozen=True)
class Life:
    """Where a finding stands. status: one of STATUSES; why: what still holds it open; cause, step: as last told.

    waits: for what it waits: an "answer", its "step", a "cause" (named, or mended), a "look"; "" for nothing.
    """

    status: str
    why: str = ""
    cause: str = ""
    step: str = ""
    mended: bool = False
    waits: str = ""

    @property
    def is_open(self) -> bool:
        """True until it is verified; a statement that is no trouble is never open."""
        return self.status in STILL_OPEN

    @property
    def cause_goes_on(self) -> bool:
        """True if its cause has to be mended and is not."""
        return self.cause in CAUSES and CAUSES[self.cause][1] and not self.mended


REOPENED = Word("reopened")


def since(told: Sequence[Word | bool]) -> list[Word]:
    """Words that count: told is, in order, what was said, and True or False for each statement that is trouble or not.

    Trouble that is stated anew after it was verified is open again.
    """
    words: list[Word] = []
    verified = False
    for each in told:
        if not isinstance(each, Word):
            if verified and each:
                words.append(REOPENED)
                verified = False
            continue
        words.append(each)
        verified = each.said == "verified" or (verified and each.said != "reopened")
    return words


def life(
    trouble: bool, wants_cause: bool, words: Sequence[Word], done: Collection[str], planned: Collection[str]
) -> Life:
    """The state of a finding from what was said of it, in order.

    trouble: it needs an answer; wants_cause: it cannot be put right without a cause; done, planned:
    ids of steps of the zone's plan that are logged, and of all that are in it.
    """
    if not trouble:
        return Life("seen")
    told, verified = _told(words)
    answered = bool(told.step) and told.step in done
    if answered or verified:
        return _answered(told, verified, bool(told.cause) or not wants_cause)
    if not told.step:
        left = "no step answers it yet"
    else:
        left = "its step is still to be done" if told.step in planned else "its step is not in the plan any more"
    if told.cause_goes_on:
        left = f"{left}; its cause is not mended"
    waits = "step" if told.step in planned else "answer"
    return replace(told, status="explained" if told.cause else "open", why=left, waits=waits)


def _told(words: Sequence[Word]) -> tuple[Life, bool]:
    """(cause, step and whether the cause is mended, by the newest word of each; whether it is verified)."""
    cause, step, mended, verified = "", "", False, False
    for word in words:
        if word.said == "explained":
            cause, mended = word.cause, False
        elif word.said == "mended":
            mended = True
        elif word.said == "verified":
            verified = True
        elif word.said in {"answered", "reopened"}:
            step, verified = word.step if word.said == "answered" else "", False
    return Life("open", "", cause, step, mended), verified


def _answered(told: Life, verified: bool, has_its_cause: bool) -> Life:
    """The life of a finding whose step is done, or that was verified."""
    if told.cause_goes_on:
        return replace(told, why=f"its cause is not mended: {CAUSES[told.cause][0].lower()}", waits="cause")
    if not has_its_cause:
        return replace(told, why="no cause is named", waits="cause")
    if verified:
        return replace(told, status="verified")
    return replace(told, status="answered", why="to be looked at again", waits="look")
