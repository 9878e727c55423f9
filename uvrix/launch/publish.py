"""Files that are made from the code: OpenAPI schema and its client, JSON Schemas, catalogues, the packages' picture.

`python -m uvrix.launch.publish` writes them; with `--check` it says which are stale and ends with 1.
"""

from __future__ import annotations

import json
import os
import shutil
import subprocess
import sys
import tempfile
from pathlib import Path

from uvrix.launch import catalogues, folders, licences

ROOT = Path(__file__).resolve().parents[2]
OPENAPI = ROOT / "docs/api/openapi.yaml"
CLIENT = ROOT / "web/src/api/schema.d.ts"
BOARD = ROOT / "docs/formats/board.schema.json"
READER = ROOT / "docs/formats/reader.schema.json"
FAMILY = ROOT / "docs/formats/family.schema.json"
RECIPE = ROOT / "docs/formats/recipe.schema.json"
PINOUT = ROOT / "docs/formats/pinout.schema.json"
IDENTITY = ROOT / "docs/formats/identity.schema.json"
IMAGE = ROOT / "docs/formats/image.schema.json"
CASE = ROOT / "docs/formats/case.schema.json"
SHOP = ROOT / "docs/formats/shop.schema.json"
LICENCES = ROOT / "docs/licences.md"
METER = ROOT / "docs/formats/meter-reader.schema.json"
PLAN = ROOT / "docs/formats/plan.schema.json"
PACK = ROOT / "docs/formats/pack.schema.json"
PRACTICE = ROOT / "docs/formats/practice.schema.json"
PLANS = ROOT / "data/plans"
# The texts of the screens in each language: a translator fills in what stands behind `msgstr`.
CATALOGUES = ROOT / "web/src/language"


def made() -> dict[Path, str]:
    """The text of each file as the code makes it now."""
    from uvrix.core.boards.families import FAMILY_SCHEMA
    from uvrix.core.boards.pinouts import PINOUT_SCHEMA
    from uvrix.core.boards.schema import BOARD_SCHEMA
    from uvrix.core.case.generic import PLAN_SCHEMA
    from uvrix.core.case.schema import CASE_SCHEMA
    from uvrix.core.case.shop import SHOP_SCHEMA
    from uvrix.core.case.usual_plan import DOCUMENTS
    from uvrix.core.memory.reader_file import READER_SCHEMA
    from uvrix.core.memory.recipes import RECIPE_SCHEMA
    from uvrix.core.packs.pack import PACK_SCHEMA
    from uvrix.core.practice.card_file import SCHEMA as PRACTICE_SCHEMA
    from uvrix.core.proving.identity import IDENTITY_SCHEMA
    from uvrix.core.readings.meter_lines import METER_READER_SCHEMA
    from uvrix.core.rework.image_file import IMAGE_SCHEMA

    with tempfile.TemporaryDirectory() as folder:
        openapi, client = Path(folder) / "openapi.yaml", Path(folder) / "schema.d.ts"
        environment = {**os.environ, "DJANGO_SETTINGS_MODULE": "uvrix.shop.config.settings"}
        environment.setdefault("UVRIX_SECRET_KEY", "only-to-make-the-schema")
        django = [sys.executable, "-m", "django", "spectacular", "--validate", "--fail-on-warn", "--file", str(openapi)]
        subprocess.run(django, check=True, cwd=ROOT, env=environment)
        npx = ["npx", "--no-install", "openapi-typescript", str(openapi), "-o", str(client)]
        subprocess.run(npx, check=True, cwd=ROOT / "web", capture_output=True, stdin=subprocess.DEVNULL)
        return {
            **_catalogues(Path(folder) / "catalogues"),
            **catalogues.files(),
            LICENCES: licences.page(),
            folders.PAGE: folders.page(),
            OPENAPI: openapi.read_text("utf-8"),
            CLIENT: client.read_text("utf-8"),
            BOARD: json.dumps(BOARD_SCHEMA, indent=1, ensure_ascii=False) + "\n",
            CASE: json.dumps(CASE_SCHEMA, indent=1, ensure_ascii=False) + "\n",
            SHOP: json.dumps(SHOP_SCHEMA, indent=1, ensure_ascii=False) + "\n",
            READER: json.dumps(READER_SCHEMA, indent=1, ensure_ascii=False) + "\n",
            FAMILY: json.dumps(FAMILY_SCHEMA, indent=1, ensure_ascii=False) + "\n",
            IMAGE: json.dumps(IMAGE_SCHEMA, indent=1, ensure_ascii=False) + "\n",
            IDENTITY: json.dumps(IDENTITY_SCHEMA, indent=1, ensure_ascii=False) + "\n",
            PINOUT: json.dumps(PINOUT_SCHEMA, indent=1, ensure_ascii=False) + "\n",
            PACK: json.dumps(PACK_SCHEMA, indent=1, ensure_ascii=False) + "\n",
            PRACTICE: json.dumps(PRACTICE_SCHEMA, indent=1, ensure_ascii=False) + "\n",
            PLAN: json.dumps(PLAN_SCHEMA, indent=1, ensure_ascii=False) + "\n",
            **{
                PLANS / f"{plan['id']}.plan.json": json.dumps(plan, indent=1, ensure_ascii=False) + "\n"
                for plan in DOCUMENTS
            },
            METER: json.dumps(METER_READER_SCHEMA, indent=1, ensure_ascii=False) + "\n",
            RECIPE: json.dumps(RECIPE_SCHEMA, indent=1, ensure_ascii=False) + "\n",
        }


def _catalogues(folder: Path) -> dict[Path, str]:
    """The catalogues with every text that the code marks, and with what is translated already."""
    kept = sorted(CATALOGUES.glob("*.po"))
    folder.mkdir()
    for path in kept:
        shutil.copy(path, folder)
    npx = ["npx", "--no-install", "lingui", "extract", "--clean"]
    environment = {**os.environ, "UVRIX_CATALOGUES": str(folder)}
    subprocess.run(npx, check=True, cwd=ROOT / "web", env=environment, capture_output=True, stdin=subprocess.DEVNULL)
    return {path: (folder / path.name).read_text("utf-8") for path in kept}


def main() -> int:
    """Write the files, or check them."""
    published = made()
    stale = [path for path, text in published.items() if not path.exists() or path.read_text("utf-8") != text]
    if "--check" not in sys.argv:
        for path, text in published.items():
            path.parent.mkdir(parents=True, exist_ok=True)
            path.write_text(text, "utf-8")
        return 0
    for path in stale:
        print(f"{path.relative_to(ROOT)} is stale; run .venv/bin/python -m uvrix.launch.publish")
    return 1 if stale else 0


if __name__ == "__main__":
    sys.exit(main())
