"""Cells of tables that go out."""


def safe(value):
    """A cell that no table program takes for a formula."""
    text = "" if value is None else str(value)
    return f"'{text}" if text.startswith(("=", "+", "-", "@", "\t")) else text
