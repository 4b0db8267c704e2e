"""Scales: what a line says, when a weight stands still, and a scale that stands in for one."""
