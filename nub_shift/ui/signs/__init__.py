"""Signs on the screen while a game is played: what they say, how they look, and where they are shown."""
