"""From series and settings to limits and signals: the one way into the computation."""
