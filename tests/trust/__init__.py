"""Nothing that a device, a file, a client or a crash does stops play, loses work, or leaves a key pressed."""
