"""How much an entry may say where nothing nearer bounds it: what no bench ever needs is a slip of the keyboard."""

from __future__ import annotations

# no board is larger
FARTHEST_MM = 2000.0
# no photograph is larger
FARTHEST_PX = 100_000.0
# ten weeks without a break
MOST_MINUTES = 100_000.0
MOST_MONEY = 1e9
# a key of a table
MOST_NUMBER = 2**62
LONGEST_SEARCH = 200
