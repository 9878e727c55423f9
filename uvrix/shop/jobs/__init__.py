"""Customers, cards, jobs, the shelf."""
