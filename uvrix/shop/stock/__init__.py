"""Stock: every part traceable across cards, whether it fits, values, lots, donors."""
