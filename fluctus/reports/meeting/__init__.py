"""A chart shown in a meeting, built up step by step."""
