"""Whether the server answers, and whether all that it needs does: for whoever supervises it."""

from __future__ import annotations

import shutil
import tempfile
from collections.abc import Callable
from datetime import timedelta

from django.conf import settings
from django.core.files.storage import default_storage
from django.db import Error, connection
from django.http import HttpRequest, JsonResponse
from django.utils import timezone
from django.views.decorators.cache import never_cache

from uvrix.language import gettext

# A photograph and a report of ordinary size must still fit.
LEAST_FREE_BYTES = 512 * 2**20
# A worker says every ten seconds that it is there.
WORKER_SILENT = timedelta(seconds=45)
OK = "ok"


@never_cache
def healthy(request: HttpRequest) -> JsonResponse:
    """Liveness: says that this process answers, whatever else does not."""
    return JsonResponse({"status": OK})


@never_cache
def ready(request: HttpRequest) -> JsonResponse:
    """Readiness: 200 where database, store of files, disk and worker are there, else 503 and which is not."""
    said = {name: check() for name, check in CHECKS.items()}
    all_well = all(words == OK for words in said.values())
    return JsonResponse({"status": OK if all_well else gettext("not ready"), **said}, status=200 if all_well else 503)


def _database() -> str:
    try:
        with connection.cursor() as cursor:
            cursor.execute("select 1")
    except Error:
        return gettext("the database does not answer")
    return OK


def _store() -> str:
    if settings.BUCKET:
        return _bucket()
    try:
        settings.MEDIA_ROOT.mkdir(parents=True, exist_ok=True)
        with tempfile.TemporaryFile(dir=settings.MEDIA_ROOT) as file:
            file.write(b"ready?")
    except OSError as error:
        return gettext("the folder of files cannot be written ({strerror})", strerror=error.strerror)
    return OK


def _bucket() -> str:
    try:
        default_storage.exists("ready")
    except Exception as error:  # noqa: BLE001 - whatever the store's client raises, it is not ready
        return gettext(
            "the bucket {bucket} does not answer ({name})", bucket=settings.BUCKET, name=type(error).__name__
        )
    return OK


def _disk() -> str:
    if settings.BUCKET:
        return OK
    try:
        free = shutil.disk_usage(settings.MEDIA_ROOT).free
    except OSError as error:
        return gettext("the disk cannot be asked ({strerror})", strerror=error.strerror)
    least = LEAST_FREE_BYTES // 2**20
    return (
        OK
        if free >= LEAST_FREE_BYTES
        else gettext("found {free} MB free on the disk, expected at least {least}", free=free // 2**20, least=least)
    )


def _worker() -> str:
    from procrastinate.contrib.django.models import ProcrastinateWorker

    try:
        alive = ProcrastinateWorker.objects.filter(last_heartbeat__gt=timezone.now() - WORKER_SILENT).exists()
    except Error:
        return gettext("not known: the database does not answer")
    return OK if alive else gettext("no worker runs: reminders, letters and the supplies' watchdog wait for one")


CHECKS: dict[str, Callable[[], str]] = {"database": _database, "store": _store, "disk": _disk, "worker": _worker}
