"""What is probably not meant, and what to do instead."""
