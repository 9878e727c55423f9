"""The rules of the bench: pure functions over frozen dataclasses.

Nothing in here knows Django, a database, the web or a file system; text comes in as bytes or binary streams.

values/   text of files, shop notation
boards/   board models: file, geometry, walk round the core, views, the mark
memory/   memory-test reports: readers, counts per site and line, findings
"""
