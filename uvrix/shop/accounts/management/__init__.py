"""Accounts on the server's command line."""
