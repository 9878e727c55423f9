"""Cold measurements: the card's power state, points, readings, meters."""
