"""Is it worth going on: a budget from the card's value, and what going on should bring."""
