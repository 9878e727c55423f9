"""What Python raises of a file that is no zip archive, or of one that is damaged."""

from __future__ import annotations

import zipfile
import zlib

# Where the damage lies decides which of them it is, for a manifest and for an entry alike.
NO_ZIP = (zipfile.BadZipFile, zlib.error, KeyError, ValueError, RuntimeError, NotImplementedError, EOFError, OSError)
