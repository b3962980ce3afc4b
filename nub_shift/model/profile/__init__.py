"""What a profile can say: its types, one file for each part of it."""
