"""Metal work: ways to strip, acid and rinse, solder, repair or replace, what can be reached when, hours."""
