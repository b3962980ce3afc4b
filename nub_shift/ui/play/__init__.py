"""Station Play: who plays what and why, and with which game a profile comes on by itself."""
