"""KPIs that are made from another one and follow it as data come."""
