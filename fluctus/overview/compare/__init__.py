"""Comparisons: parts, people against a goal, pairs, places, shares."""
