"""The library: board models, families, recipes, readers, packages and their editions; the editor; prints."""
