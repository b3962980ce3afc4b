"""The desktop's D-Bus: one connection that never waits, whatever loop it is read by."""
