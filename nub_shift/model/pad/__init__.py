"""What belongs to one pad: its labels, its card, what was measured of it and how it is corrected."""
