"""The formats of tables, a module each. ``registry`` lists them, in the order they are tried."""
