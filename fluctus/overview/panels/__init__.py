"""Panels: what a page is made of, and how each kind of them is answered, shown and set."""
