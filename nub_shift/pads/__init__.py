"""Where frames come from: evdev, simulated and recorded pads. Knows `model` and the engine's values."""
