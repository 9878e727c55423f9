"""Backup and restore."""
