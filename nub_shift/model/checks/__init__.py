"""Checks of a well-formed profile, beyond its structure."""
