"""Hypothesis in two strengths: the usual run is bounded in time, UVRIX_THOROUGH=1 looks longer."""

from __future__ import annotations

import os
from pathlib import Path

import pytest
from hypothesis import HealthCheck, settings

settings.register_profile("usual", max_examples=60, deadline=None, suppress_health_check=[HealthCheck.too_slow])
settings.register_profile("thorough", max_examples=1500, deadline=None, suppress_health_check=[HealthCheck.too_slow])
settings.load_profile("thorough" if os.environ.get("UVRIX_THOROUGH") else "usual")


@pytest.fixture(scope="session")
def open_folder(tmp_path_factory):
    """Makes folders that the database user can enter; pytest's own are closed to others."""

    def made() -> Path:
        folder = tmp_path_factory.mktemp("open")
        for one in (folder, *folder.parents):
            if one.name.startswith(("open", "pytest-")):
                one.chmod(0o755)
        return folder

    return made
