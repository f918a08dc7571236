"""The people of a workspace: their roles, who is invited, and who leaves."""
