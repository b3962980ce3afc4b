"""Measurements of speed and memory, each against a baseline of the same run."""
