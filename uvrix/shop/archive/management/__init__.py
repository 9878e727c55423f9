"""Commands of the archive."""
