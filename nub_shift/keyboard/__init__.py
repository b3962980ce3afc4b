"""Key codes and names, keyboard layouts."""
