"""Pictures of a stick, a trigger and motion, with handles to drag."""
