"""What is owed before a card may leave: promised by hand, or following from what was done."""
