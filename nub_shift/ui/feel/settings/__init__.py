"""Settings of the feel: numbers, choices and wishes."""
