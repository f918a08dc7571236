"""Setting a report: on pages as PDF, and on slides."""
