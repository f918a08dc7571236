"""Tables as people have them, read into plain columns. No Django."""
