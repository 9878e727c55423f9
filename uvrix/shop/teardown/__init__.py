"""Teardown recipes of board models, and what of a job's card is off, counted out and in."""
