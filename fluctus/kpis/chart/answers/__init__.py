"""A chart as the API answers with it."""
