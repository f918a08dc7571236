"""How an installation is, for whoever sees to it."""
