"""Text of files and the numbers in it."""
