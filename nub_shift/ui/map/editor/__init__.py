"""The opened control: its slots in their layers, and their actions."""
