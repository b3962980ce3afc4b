"""What a profile and a pad card say, and what refers to what."""
