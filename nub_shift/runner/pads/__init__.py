"""Available pads: registry, monitoring for clients, batteries."""
