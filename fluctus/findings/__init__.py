"""Signals with a life: what was found, why, who looks into it, what came of it."""
