"""Improvements: what people changed to move KPIs, and what came of it."""
