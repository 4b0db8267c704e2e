"""What the rules say; importing the package enters every rule into the registry."""

from . import access, judge, strip

__all__ = ["access", "judge", "strip"]
