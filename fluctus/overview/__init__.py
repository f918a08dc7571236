"""All KPIs at once, side by side, and on pages that people arrange for others."""
