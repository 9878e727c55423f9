"""Rework: acts and what follows from them, neighbours and alloys, pads, heat curves, firmware images."""
