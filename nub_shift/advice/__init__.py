"""What is probably a mistake, and what to do instead."""
