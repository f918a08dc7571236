"""A KPI's chart: its settings, its analysis, and what is shown of it."""
