"""Sentences and explanations, made of numbers and tested as text."""
