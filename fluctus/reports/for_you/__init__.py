"""What waits for a person: assigned, due, named in words of others, and what others made."""
