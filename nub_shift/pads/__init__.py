"""Where frames come from: evdev, simulated, recorded."""
