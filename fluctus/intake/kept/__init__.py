"""Readings that are kept by name: how a table was read, for the next one of its shape."""
