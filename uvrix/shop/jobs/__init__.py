"""Customers, cards and jobs: who is who, which board a job is on, how rows are kept, how jobs stand."""
