"""Uvrix: from a memory-test report to the chip on the board."""
