"""Look: colours, fonts, lengths, and the drawing of controls and keycaps."""
