"""Open formats to grids of cells."""
