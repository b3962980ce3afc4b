"""Station Feel: how sticks are shaped, set on the picture."""
