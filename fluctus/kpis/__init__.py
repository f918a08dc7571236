"""KPIs, their observations and segments; asks the core for the analysis."""
