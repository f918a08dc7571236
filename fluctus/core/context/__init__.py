"""What stands beside an analysis: comparisons of its segments."""
