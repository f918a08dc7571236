"""Fluctus: process behavior charts whose limits follow the process."""
