"""Film measured by a gauge: readings on a face, held against what is asked, and where to add."""
