"""What may be behind a symptom: the model's watchlist, and what earlier cards alike turned out to have."""
