"""./test --quick: the tests nearest to what changed come first; when time is over the rest is left out."""

from __future__ import annotations

import re
import subprocess
from collections.abc import Collection
from functools import cached_property
from pathlib import Path

# How near a test file is: it changed itself or names a module that did; it names or stands for its package; neither.
NAMED, BESIDE, FAR = range(3)
MODULE = re.compile(r"\buvrix(?:\.\w+)+")
IMPORTED = re.compile(r"^from (uvrix[\w.]*) import (.+)$", re.MULTILINE)


def changed_files(root: Path) -> frozenset[str]:
    """The files that differ from the last commit; those of the last commit where none does, or nothing is known."""

    def said(*command: str) -> list[str]:
        done = subprocess.run(["git", *command], cwd=root, text=True, capture_output=True, check=False)
        return done.stdout.splitlines() if done.returncode == 0 else []

    open_now = [*said("diff", "--name-only", "HEAD"), *said("ls-files", "--others", "--exclude-standard")]
    return frozenset(open_now or said("diff", "--name-only", "HEAD~1", "HEAD"))


class Nearness:
    """How near each test file is to what changed."""

    def __init__(self, changed: Collection[str]) -> None:
        self.changed = frozenset(changed)

    @cached_property
    def modules(self) -> frozenset[str]:
        """The modules of the product that changed, as Python names them."""
        paths = [Path(name) for name in self.changed if name.startswith("uvrix/") and name.endswith(".py")]
        return frozenset(".".join(path.with_suffix("").parts).removesuffix(".__init__") for path in paths)

    @cached_property
    def packages(self) -> frozenset[str]:
        """The packages that those stand in."""
        return frozenset(module.rpartition(".")[0] for module in self.modules)

    def of(self, file: str, text: str) -> int:
        """NAMED, BESIDE or FAR, by a test file's path below the root and its text."""
        named = set(MODULE.findall(text))
        for package, names in IMPORTED.findall(text):
            named |= {f"{package}.{name.strip(' ()')}" for name in names.split(",")}
        named |= {str(parent).replace("/", ".") for name in named for parent in Path(name.replace(".", "/")).parents}
        if file in self.changed or named & self.modules:
            return NAMED
        stem = Path(file).stem.removeprefix("test_")
        stands_for = {f"uvrix.shop.{stem}", f"uvrix.{'.'.join(Path(file).parent.parts[1:])}"}
        return BESIDE if (named | stands_for) & self.packages else FAR
