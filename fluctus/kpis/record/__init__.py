"""The record of acts on charts: kept by every write, put into words, read by undo and history."""
