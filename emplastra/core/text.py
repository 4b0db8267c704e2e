"""An uploaded file as text."""

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
