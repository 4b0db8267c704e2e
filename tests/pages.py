"""Every page that can be reached by links from the first one, and the texts on it."""

import html
import re
from html.parser import HTMLParser

_LINK = re.compile(r'(?:href|hx-get|src)="(/[^"#]*)')
_NUMBER = r"(?<!\w)[−+-]?\d[\d\s.,]*(?: (?:to|×) [−+-]?[\d.,]+)* ?"
METRIC = re.compile(_NUMBER + r"(?:m²/L|mL/m²|(?:µm|mm|cm|m²|m2|cm2|mL|L|°C|K|bar)(?![\w²/]))")
US = re.compile(_NUMBER + r"(?:sq ft/gal US|fl oz US/sq ft|(?:mil|in|ft|sq ft|sq in|fl oz US|°F|psi)(?![\w/]))")


class _Texts(HTMLParser):
    """Texts between tags, and those that a tag says by a title, a label or a placeholder; a field shows what was typed."""

    def __init__(self):
        super().__init__()
        self.found, self.skipped = [], 0

    def handle_starttag(self, tag, attrs):
        self.skipped += tag in {"script", "style"}
        self.found += [text for name, text in attrs if name in {"title", "aria-label", "placeholder", "alt"} and text]  # fmt: skip

    def handle_endtag(self, tag):
        self.skipped -= tag in {"script", "style"}

    def handle_data(self, data):
        if not self.skipped:
            self.found.append(data)


def texts_of(page):
    """The texts of a page, blanks folded."""
    parser = _Texts()
    parser.feed(page)
    return [text for each in parser.found if (text := re.sub(r"\s+", " ", each).strip())]


def walk(client, most=3):
    """(address, page) of the pages reached by links from "/": at most so many of one kind."""
    todo, seen, counts = ["/"], set(), {}
    while todo:
        address = todo.pop(0)
        kind = re.sub(r"\d+", "N", address.split("?")[0])
        if address in seen or counts.get(kind, 0) >= most or "/static/" in address or "/photos/" in address:
            continue
        seen.add(address)
        counts[kind] = counts.get(kind, 0) + 1
        answer = client.get(address)
        if answer.status_code == 302:
            todo.append(answer["Location"])
        if answer.status_code == 200 and not answer.streaming and "html" in answer.get("Content-Type", ""):
            page = answer.content.decode()
            yield address, page
            todo += [html.unescape(link) for link in _LINK.findall(page)]


def foreign(page, system):
    """Texts that give a quantity in the other system's units only."""
    other, own = (METRIC, US) if system == "us" else (US, METRIC)
    return [text for text in texts_of(page) if other.search(text) and not own.search(text)]


def sent(form):
    """What a browser sends of a form as it is shown."""
    found = {}
    for name, field in form.fields.items():
        value = field.prepare_value(form[name].value()) if hasattr(field, "prepare_value") else form[name].value()
        if value not in (None, False, ""):
            found[name] = "on" if value is True else value
    return found
