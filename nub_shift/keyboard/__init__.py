"""Key codes, key names and keyboard layouts."""
