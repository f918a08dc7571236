"""The kinds of panels, a module each. ``panels.registry`` lists them."""
