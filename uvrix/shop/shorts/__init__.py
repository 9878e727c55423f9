"""Hunting a short: voltage injected, where it glowed, parts taken off, layers cut out."""
