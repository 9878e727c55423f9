"""The served product and the technician's gestures, as in the browser tests."""

import pytest

from tests.browser.conftest import bench, chromium, served
from uvrix.shop.accounts.models import User
from uvrix.shop.config.roles import Role

__all__ = ["bench", "chromium", "served"]


@pytest.fixture
def lead(settings, tmp_path):
    settings.MEDIA_ROOT = tmp_path
    user = User(username="casper", role=Role.LEAD)
    user.set_unusable_password()
    user.save()
    return user
