"""What the rules say; importing the package enters every rule into the registry."""

from . import access, coat, metal, stack, strip

__all__ = ["access", "coat", "metal", "stack", "strip"]
