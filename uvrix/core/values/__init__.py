"""Text of files, JSON, numbers as instruments say them, limits met exactly, shares in words."""
