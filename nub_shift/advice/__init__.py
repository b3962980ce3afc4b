"""What in a sound profile is probably not meant, and what to do instead."""
