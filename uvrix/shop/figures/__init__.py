"""Figures: what the shop's own jobs add up to, and what it learns of proven cards."""
