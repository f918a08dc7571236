"""A workbook that computes: averages, limits and rules as formulas from the column of values."""
