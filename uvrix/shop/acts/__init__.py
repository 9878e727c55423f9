"""What was done to cards: one row an act, whichever screen it is entered on."""
