"""Stand-ins for what is not in the room: cameras, bench meters, a bench supply, a courier."""
