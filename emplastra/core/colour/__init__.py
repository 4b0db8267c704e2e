"""Colour: how far two differ, what hides what, what a spray-out card says."""
