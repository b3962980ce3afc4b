"""Which code of a device is which control: by its card, or by the kernel's gamepad document."""
