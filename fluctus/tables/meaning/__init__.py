"""What the cells of a grid mean: where the table is, its dates, its numbers."""
