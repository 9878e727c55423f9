"""Hypotheses of a job through all its steps, the watchlists of models, counts from past jobs."""
