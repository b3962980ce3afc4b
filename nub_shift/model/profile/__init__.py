"""Types of a profile, one module for each part."""
