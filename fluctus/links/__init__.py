"""Read-only links: a chart, a page or a report for people without an account."""
