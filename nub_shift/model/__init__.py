"""Profiles and pad cards as values, their checks, and references within a profile."""
