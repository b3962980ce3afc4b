"""Data of one pad: labels, card, measurements and corrections."""
