"""The values that are due and typed by hand: what waits, how a value stands, saved together."""
