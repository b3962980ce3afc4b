"""What differs between profiles, and copying it over."""
