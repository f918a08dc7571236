"""Word to those who wait for it: what has happened, who is told of it, and how."""
