"""One shop of its own for the tests of this folder that need a server."""

from __future__ import annotations

from collections.abc import Iterator

import pytest

from tests.launch.shop import Shop
from uvrix.launch import templates


@pytest.fixture(scope="package")
def shop(open_folder, template_folder) -> Iterator[Shop]:
    templates.ensure(template_folder, templates.SCHEMA)
    made = Shop(open_folder())
    yield made
    made.stop()
