"""Comparison of two feels, by hand and by recorded movements."""
