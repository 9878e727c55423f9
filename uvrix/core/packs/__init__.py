"""Packs: a shop's library in one open file, read by another shop without either losing an entry."""
