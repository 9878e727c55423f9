"""A published migration never changes: data that has it marked as applied would lack what was added."""

from __future__ import annotations

import hashlib
import os
from pathlib import Path

ROOT = Path(__file__).parents[2]
PUBLISHED = Path(__file__).with_name("migrations.sha256")


def test_published_migrations_are_as_they_were_and_new_ones_are_listed():
    """UVRIX_APPROVE=1 lists new ones; one that is listed cannot be approved anew."""
    known = dict(line.split("  ")[::-1] for line in PUBLISHED.read_text().splitlines())
    paths = sorted((ROOT / "uvrix").glob("**/migrations/0*.py"))
    found = {str(path.relative_to(ROOT)): hashlib.sha256(path.read_bytes()).hexdigest() for path in paths}
    changed = [name for name, digest in known.items() if found.get(name) != digest]
    assert changed == [], "found published migrations changed or gone, expected a new migration instead"
    new = sorted(found.keys() - known.keys())
    if os.environ.get("UVRIX_APPROVE"):
        PUBLISHED.write_text("".join(f"{digest}  {name}\n" for name, digest in sorted(found.items())))
    else:
        assert new == [], "found migrations that are not listed: UVRIX_APPROVE=1 ./test -k published"
