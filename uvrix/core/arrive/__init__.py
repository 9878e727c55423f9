"""Arriving: what the symptom says before the card is opened."""
