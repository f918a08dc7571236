"""A second step at signing in: a code of a device that only the person has."""
