"""Backups made by themselves: one a day, fewer the older they are; nothing half written, nothing that others read."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from uvrix.shop.archive.backups import DAYS, MONTHS, WEEKS, backups, kept, make_if_due

NOW = datetime(2026, 11, 29, 3, tzinfo=UTC)


@pytest.fixture
def folder(tmp_path, settings):
    settings.BACKUPS = tmp_path / "backups"
    return settings.BACKUPS


@pytest.mark.django_db
def test_one_a_day_is_made_and_read_by_nobody_else(folder, job, as_role):
    made = make_if_due(NOW)
    assert made is not None
    assert made.name == "uvrix-20261129T030000Z.zip"
    assert made.stat().st_mode & 0o077 == 0
    assert folder.stat().st_mode & 0o077 == 0
    assert make_if_due(NOW + timedelta(hours=23)) is None
    assert make_if_due(NOW + timedelta(hours=24)) is not None
    listed = as_role("lead").get("/api/v1/backups").json()
    assert [row["name"] for row in listed] == ["uvrix-20261130T030000Z.zip", made.name]
    assert as_role("technician").get("/api/v1/backups").status_code == 403


@pytest.mark.django_db
def test_what_breaks_off_leaves_the_former_one_and_nothing_half(folder, job, monkeypatch):
    make_if_due(NOW)

    def full(*_, **__):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr("uvrix.shop.archive.backups.write_shop", full)
    with pytest.raises(OSError, match="No space"):
        make_if_due(NOW + timedelta(days=2))
    assert [path.suffix for path in folder.iterdir() if path.name != "making"] == [".zip"]
    assert len(backups()) == 1


@pytest.mark.django_db
def test_files_of_other_names_are_nobodys_to_remove(folder, job):
    folder.mkdir()
    (folder / "before-the-move.zip").write_bytes(b"kept by hand")
    for day in range(12):
        make_if_due(NOW + timedelta(days=day))
    assert (folder / "before-the-move.zip").exists()
    assert len(backups()) < 12


@given(st.sets(st.integers(0, 24 * 800), min_size=1, max_size=200))
def test_what_is_kept_is_few_and_reaches_back(hours):
    made = [NOW + timedelta(hours=hour) for hour in hours]
    left = kept(made)
    assert left <= set(made)
    assert max(made) in left
    assert len(left) <= DAYS + WEEKS + MONTHS
    assert kept(sorted(left)) == left, "what was kept once is kept until newer ones come"
    days = sorted({at.date() for at in made}, reverse=True)[:DAYS]
    assert {at.date() for at in left} >= set(days)
    months = sorted({(at.year, at.month) for at in made}, reverse=True)[:MONTHS]
    assert {(at.year, at.month) for at in left} >= set(months)
