"""What comes with a card: its symptom, what was tried outside of it, its label."""
