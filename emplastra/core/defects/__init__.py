"""Faults of a coat: what made them, which test decides, what puts them right and what that costs of the film."""
