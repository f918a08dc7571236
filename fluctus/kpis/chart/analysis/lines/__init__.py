"""The lines that people put on a chart, a module a kind. ``registry`` lists them."""
