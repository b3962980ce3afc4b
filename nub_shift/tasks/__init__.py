"""What the commands do that is neither playing nor showing."""
