"""From a pasted or uploaded table to the observations of a KPI."""
