"""Taking data along over the API: one job or everything out, a job in."""

from __future__ import annotations

import tempfile
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import IO, Annotated, Any

from django.http import StreamingHttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.shop.accounts.entries import entry_of
from uvrix.shop.archive.backups import backups
from uvrix.shop.archive.reading import Archive, import_job
from uvrix.shop.archive.writing import CHUNK, write_job, write_shop
from uvrix.shop.config.access import BENCH, LEAD
from uvrix.shop.config.shapes import declared, shape
from uvrix.shop.jobs.api import found_job

ZIP = {(200, "application/zip"): OpenApiTypes.BINARY}


class _Chunks:
    """A file a piece at a time; closed at its end, or when the answer is."""

    def __init__(self, held: IO[bytes]) -> None:
        self.held = held

    def __iter__(self) -> Iterator[bytes]:
        while chunk := self.held.read(CHUNK):
            yield chunk
        self.close()

    def close(self) -> None:
        """Close the file: nobody reads on."""
        self.held.close()


def _answer(write: Callable[[IO[bytes]], Any], name: str) -> StreamingHttpResponse:
    """A zip, written to a file that nobody else sees first: an archive may be larger than memory."""
    held = tempfile.TemporaryFile()  # noqa: SIM115 - closed at its end, or by the answer
    try:
        write(held)
    except BaseException:
        held.close()
        raise
    size = held.tell()
    held.seek(0)
    headers = {"Content-Disposition": f'attachment; filename="{name}"', "Content-Length": str(size)}
    return StreamingHttpResponse(_Chunks(held), content_type="application/zip", headers=headers)


class JobArchive(APIView):
    """One job as an open archive; firmware is in it, which the front desk does not fetch elsewhere either."""

    roles = {"GET": BENCH}

    @extend_schema(responses=ZIP)
    def get(self, request: Request, number: int) -> StreamingHttpResponse:
        """JSON, CSV and files in one zip."""
        job = found_job(number)
        return _answer(lambda out: write_job(job, out), f"{job.label}.uvrix.zip")


class ShopArchive(APIView):
    """Everything as an open archive."""

    roles = {"GET": LEAD}

    @extend_schema(responses=ZIP)
    def get(self, request: Request) -> StreamingHttpResponse:
        """Without passwords and links; a backup with them is made by `backup` on the server."""
        return _answer(lambda out: write_shop(out, secret=False), "shop.uvrix.zip")


class BackupSerializer(serializers.Serializer[Any]):
    """A backup on the server: when it was made, its bytes."""

    name = serializers.CharField(source="path.name")
    at = serializers.DateTimeField()
    size = serializers.IntegerField()


class Backups(APIView):
    """The backups that the server made by itself; they hold passwords, and are fetched on the server alone."""

    roles = {"GET": LEAD}

    @extend_schema(responses=BackupSerializer(many=True), operation_id="backups")
    def get(self, request: Request) -> Response:
        """The backups that are kept, newest first."""
        return Response(BackupSerializer(backups(), many=True).data)


@dataclass(frozen=True, slots=True)
class ImportArchiveRequest:
    """An archive of a job."""

    file: Annotated[Any, declared(serializers.FileField())]


class ImportedSerializer(serializers.Serializer[Any]):
    """The job that came in."""

    number = serializers.IntegerField(source="pk")
    label = serializers.CharField()  # type: ignore[assignment]  # a field, not DRF's label


class Archives(APIView):
    """Jobs from other shops."""

    roles = {"POST": LEAD}
    parser_classes = [MultiPartParser]

    @extend_schema(
        request={"multipart/form-data": shape(ImportArchiveRequest)},
        responses={(201, "application/json"): ImportedSerializer},
    )
    def post(self, request: Request) -> Response:
        """Take one in, beside those that are here."""
        job = import_job(Archive(entry_of(request, ImportArchiveRequest).file))
        return Response(ImportedSerializer(job).data, 201)
