"""Real pads: kernel devices found, opened, decoded and watched."""
