"""Taking a card apart and putting it together again: recipes, counted groups of screws, the crosswise order."""
