"""What cannot be, and which field says so."""


class FieldError(ValueError):
    """A value that cannot be: `field` names it, the text says what would do."""

    def __init__(self, field: str, message: str) -> None:
        super().__init__(message)
        self.field = field
