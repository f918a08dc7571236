"""How much a workspace may hold: of what, how much is there, and whom to ask for more."""
