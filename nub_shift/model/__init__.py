"""What a profile says: its words, reading, checking, writing, keeping. Knows no other room."""
