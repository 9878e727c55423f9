"""What is checked of a database before it is migrated or served."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from django.apps import AppConfig, apps
from django.core.checks import CheckMessage, Error, Tags, register
from django.db import Error as DatabaseError
from django.db import connections
from django.db.migrations.loader import MigrationLoader

from uvrix.language import gettext


@register(Tags.database)
def data_is_not_newer(
    app_configs: Sequence[AppConfig] | None, databases: Sequence[str] | None, **_: Any
) -> list[CheckMessage]:
    """An error where the data was migrated by a newer version: it might not read what this one writes."""
    ours = {config.label for config in apps.get_app_configs() if config.name.startswith("uvrix.")}
    found: list[CheckMessage] = []
    for alias in databases or ():
        try:
            loader = MigrationLoader(connections[alias])
        except DatabaseError:
            continue
        newer = sorted(key for key in loader.applied_migrations if key[0] in ours and key not in loader.disk_migrations)
        if newer:
            names = ", ".join(f"{app}.{name}" for app, name in newer[:3])
            words = gettext(
                "found data of a newer version ({names}), expected this version's or an older one's", names=names
            )
            found.append(Error(words, hint=gettext("Start the newer version, or restore a backup that this one made.")))
    return found
