"""Spraying a face: what a gun lays down in a stroke, the strokes over a face, the film that they leave."""
