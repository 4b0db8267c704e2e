"""Emplastra: planner, calculator, clock and logbook of a restoration refinisher."""

__version__ = "0.1.0"
