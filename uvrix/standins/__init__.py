"""Stand-ins for what is not in the room: a camera."""
