"""What a table means: its columns, its KPIs, and what is wrong with its rows."""
