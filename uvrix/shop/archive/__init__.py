"""Taking data along: one job or everything as an open archive, backup and restore."""
