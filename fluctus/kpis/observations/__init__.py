"""The values of a KPI: as they are stored, and one for each period of a chart."""
