"""KPIs that a person keeps at the top of the rail."""
