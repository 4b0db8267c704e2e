"""Files that are answered: a table, a PDF."""

import csv

from django.http import FileResponse, HttpResponse
from django.utils.cache import get_conditional_response


def table(name, header, rows):
    """Rows as a CSV to keep; no cell is one that a table program takes for a formula."""
    answer = HttpResponse(content_type="text/csv; charset=utf-8")
    answer["Content-Disposition"] = f'attachment; filename="{name}.csv"'
    out = csv.writer(answer)
    out.writerow(header)
    out.writerows([safe_cell(cell) for cell in row] for row in rows)
    return answer


def safe_cell(value):
    """A cell that no table program takes for a formula."""
    text = "" if value is None else str(value)
    return f"'{text}" if text.startswith(("=", "+", "-", "@", "\t")) else text


def pdf(name, data):
    """A PDF to look at."""
    answer = HttpResponse(data, content_type="application/pdf")
    answer["Content-Disposition"] = f'inline; filename="{name}.pdf"'
    return answer


def picture(request, path, mark):
    """A picture's file, kept by the one browser that asked; it asks each time whether it still may, and is told so by
    a head alone. mark: what the picture has in common with no other.
    """
    etag = f'"{mark}"'
    answer = get_conditional_response(request, etag=etag)
    if answer is None:
        answer = FileResponse(path.open("rb"), content_type="image/jpeg")
    answer["ETag"], answer["Cache-Control"] = etag, "private, no-cache"
    return answer
