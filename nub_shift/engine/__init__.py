"""Frame in, outputs out. Never reads a clock, a device or a file; knows `model` only. See docs/architecture.md."""
