"""The served product and the technician's gestures, as in the browser tests."""

from tests.browser.conftest import bench, chromium, served

__all__ = ["bench", "chromium", "served"]
