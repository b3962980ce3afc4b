"""The desktop's D-Bus: one non-blocking connection, independent of an event loop."""
