"""Keys and typed texts, as read and written by people."""
