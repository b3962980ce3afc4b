"""Station Map."""
