"""Values that people write, set aside and look back on."""
