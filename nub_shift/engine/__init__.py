"""Frame in, outputs out: no clock, no device, no file."""
