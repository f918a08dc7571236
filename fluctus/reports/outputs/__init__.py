"""What can be handed over, a module a kind. ``registry`` lists them."""
