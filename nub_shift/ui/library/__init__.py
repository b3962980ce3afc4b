"""The Library."""
