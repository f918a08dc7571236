"""What to think of an analysis: fitness, evidence, shift candidates, false alarms."""
