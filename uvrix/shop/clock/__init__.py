"""Time and worth: a clock per job and step, what the card is worth, tasks that a colleague can take."""
