"""Looking before any meter: regions of the board, findings, photographs laid over the model's reference."""
