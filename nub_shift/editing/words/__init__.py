"""What things are called on the screen."""
