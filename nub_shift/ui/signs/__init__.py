"""Signs on the screen during play: content, painting and display."""
