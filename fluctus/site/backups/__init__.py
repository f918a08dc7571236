"""All that an installation keeps, written to one file and read back from it."""
