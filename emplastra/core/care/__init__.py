"""The years after: what may be done when, where to look, how a system held elsewhere."""
