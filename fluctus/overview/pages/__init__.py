"""Pages: titled sheets of panels that people arrange for others."""
