"""Readings: values in shop notation, known-good figures, verdicts."""
