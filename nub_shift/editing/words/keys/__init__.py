"""Keys and typed texts, as a person reads and writes them."""
