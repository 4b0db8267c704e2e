"""Texts: that of an uploaded file, and names where there is little room."""

import re

MAX_BYTES = 5_000_000


class TextError(ValueError):
    """A file that is too large, or no text."""


def text_of(data: bytes, wanted: str) -> str:
    """Bytes as text with plain line ends: UTF-8, else Windows-1252. wanted: what is asked for, in words. Raises
    TextError.
    """
    if len(data) > MAX_BYTES:
        raise TextError(f"the file is larger than {MAX_BYTES // 1_000_000} MB")
    if b"\x00" in data:
        raise TextError(f"this is not a text file: {wanted} is wanted")
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        text = data.decode("cp1252", errors="replace")
    return text.replace("\r\n", "\n").replace("\r", "\n")


def shortened(name: str, room: int) -> str:
    """A name in at most `room` characters: what is left out is its middle, for names differ at both ends."""
    if len(name) <= room:
        return name
    head = room // 2
    tail = room - 1 - head
    return name[:head].rstrip(" ,") + "…" + (name[-tail:].lstrip(" ,") if tail else "")


_WORDS = re.compile(r"[\s;|]+|,\s+")
_CUTS = re.compile(r"[,;\t]")


def words_of(line: str) -> list[str]:
    """Figures of a row as they are typed: apart by space, ; or |, or by a comma with a space, for 0,4 is one figure."""
    return [word for word in _WORDS.split(line.strip()) if word]


def cut_of(line: str) -> str:
    """What stands between the cells of a table, by its head: ; or tab or comma; "" where it has but one."""
    return next((mark for mark in (";", "\t", ",") if mark in line), "")


def cells_of(line: str, cut: str = "") -> list[str]:
    """Cells of a line, without their quotation marks: apart by `cut` where it stands there, else by ; , or tab."""
    cells = line.split(cut) if cut and cut in line else _CUTS.split(line)
    return [cell.strip().strip('"') for cell in cells]
