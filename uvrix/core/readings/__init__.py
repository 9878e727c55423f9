"""Readings: shop notation, known-good figures, verdicts, the guard, shorts, fuses, chips and lanes by their fellows."""
