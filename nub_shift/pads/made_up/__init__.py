"""Made-up pads: devices like real ones, so that everything can be tried without hardware."""
