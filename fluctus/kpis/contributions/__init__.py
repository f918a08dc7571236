"""What made a value: by how much each part, or each number of a ratio, moved it."""
