"""Station Try."""
