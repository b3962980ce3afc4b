"""Codes of a device's controls, by its card or by the kernel's gamepad document."""
