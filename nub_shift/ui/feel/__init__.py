"""Station Feel: shaping of controls in pictures."""
