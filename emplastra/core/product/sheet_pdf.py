"""Text of a PDF. Run as a program it reads one file in a process of its own.

`python -m emplastra.core.product.sheet_pdf FILE` writes JSON lines: {"done": share, "words": ...} while it works, at
last {"report": {"text": ...}} or {"error": ...}. The process limits its own memory and time first. Read by pypdf.
"""

import json
import sys
from collections.abc import Callable
from pathlib import Path

MAX_BYTES, MAX_PAGES = 20_000_000, 60
MAX_CHARACTERS = 180_000
MEMORY_BYTES, CPU_S = 1_500_000_000, 60


class PdfError(ValueError):
    """A file that gives no text; the message says what would do."""


def text_of(data: bytes, say: Callable[[float, str], None] = lambda done, words: None) -> str:
    """The text of a PDF, its columns kept apart. Raises PdfError for another kind of file, an encrypted one, or one of
    pictures only.
    """
    import io

    from pypdf import PdfReader
    from pypdf.errors import PyPdfError

    if not data.lstrip()[:5] == b"%PDF-":
        raise PdfError("is no PDF: send a PDF, or paste the sheet’s text")
    try:
        reader = PdfReader(io.BytesIO(data))
        if reader.is_encrypted and not reader.decrypt(""):
            raise PdfError("is locked with a password: open it, and paste its text")
        count = min(len(reader.pages), MAX_PAGES)
        pages = []
        for n in range(count):
            say((n + 1) / (count + 1), f"reading page {n + 1} of {count}")
            pages.append(reader.pages[n].extract_text(extraction_mode="layout") or "")
    except PdfError:
        raise
    except (PyPdfError, ValueError, TypeError, KeyError, IndexError, AttributeError, RecursionError, OSError) as error:
        raise PdfError("cannot be read: it is broken, or cut; paste the sheet’s text") from error
    except Exception as error:  # what a broken file brings out of its reader has no common name
        raise PdfError("cannot be read; paste the sheet’s text") from error
    text = "\n".join(pages).strip()
    if not any(c.isalnum() for c in text):
        raise PdfError("has no text in it, only pictures: type it, or paste")
    return text[:MAX_CHARACTERS]


def _limit() -> None:
    import resource

    resource.setrlimit(resource.RLIMIT_AS, (MEMORY_BYTES, MEMORY_BYTES))
    resource.setrlimit(resource.RLIMIT_CPU, (CPU_S, CPU_S))


def main(path: str) -> None:
    """Read a file and write JSON lines."""

    def say(done: float, words: str) -> None:
        print(json.dumps({"done": done, "words": words}), flush=True)

    _limit()
    try:
        say(0.02, "opening the file")
        print(json.dumps({"report": {"text": text_of(Path(path).read_bytes(), say)}}), flush=True)
    except PdfError as error:
        print(json.dumps({"error": str(error)}), flush=True)
    except MemoryError:
        print(json.dumps({"error": "is too large to be read here: paste the pages with the figures"}), flush=True)


if __name__ == "__main__":
    main(sys.argv[1])
