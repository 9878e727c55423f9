"""Rework: what was done to sites, chips and pads, with which heat; firmware images; timers."""
