"""Uvrix: measurements of a card to the part on its board, and a card to its proof."""
