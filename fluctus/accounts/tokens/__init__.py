"""API tokens: how programs add values and read analyses."""
