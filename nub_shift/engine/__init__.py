"""The engine: turns pad frames into outputs, without a clock, a device or a file."""
