"""What must be so in a well-formed profile besides its structure."""
