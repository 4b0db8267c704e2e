"""What pages read: states of zones, folded from the facts."""
