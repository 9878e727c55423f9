"""Board models and their editions."""
