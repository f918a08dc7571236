"""KPIs as strips: charts made small, on one time axis, and what to know of each."""
