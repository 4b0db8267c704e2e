"""What happens to a surface and what runs on it: events, their fold, clocks, plans of steps."""
