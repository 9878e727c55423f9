"""What people may be: the roles that every view names."""

from __future__ import annotations

from django.db import models


class Role(models.TextChoices):
    """What a person may do (docs/decisions/roles.md)."""

    TECHNICIAN = "technician"
    FRONT_DESK = "front-desk"
    LEAD = "lead"
