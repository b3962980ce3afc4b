"""Sources of pad frames: evdev, simulated, recorded."""
