"""Scales: which there are, what they say, and the vessels that stand on them."""
