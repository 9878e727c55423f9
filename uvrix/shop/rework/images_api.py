"""Firmware images over the API."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Annotated, Any, get_args
from uuid import UUID

from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.core.rework.image_file import byte_lines, texts_in
from uvrix.core.rework.images import ImageDiff, ImageKind, Run, compare, explain
from uvrix.language import gettext
from uvrix.shop.accounts.entries import entry_of, person
from uvrix.shop.config.access import BENCH, EVERYONE
from uvrix.shop.config.problems import Problem
from uvrix.shop.config.shapes import declared, given, shape, written
from uvrix.shop.jobs.api import found_job
from uvrix.shop.jobs.models import Job
from uvrix.shop.library.models import BoardModel
from uvrix.shop.rework.images import (
    RESULTS,
    VOLTS,
    NewImageWrite,
    Origin,
    keep_image,
    old_image,
    ranked,
    read_image,
    wanted,
    write_image,
)
from uvrix.shop.rework.models import FirmwareImage, ImageRead, ImageWrite

LARGEST_IMAGE = 16 * 1024 * 1024
LARGEST_FACTS = 65536
MOST_RUNS, MOST_LINES = 400, 64
KINDS = list(get_args(ImageKind))


class FactsSerializer(serializers.Serializer[Any]):
    """What an image says of itself."""

    bus = serializers.CharField(allow_blank=True)
    memory = serializers.CharField(allow_blank=True)
    vendors = serializers.ListField(child=serializers.CharField())
    core_mhz = serializers.FloatField(allow_null=True)
    memory_mhz = serializers.FloatField(allow_null=True)
    text = serializers.CharField(allow_blank=True)
    volts = serializers.FloatField(allow_null=True)


class ImageSerializer(serializers.ModelSerializer[FirmwareImage]):
    """An image of the store."""

    facts = FactsSerializer()
    model = serializers.CharField(source="model.slug", allow_null=True, default=None)
    by = serializers.CharField(source="by.shown_name")

    class Meta:
        model = FirmwareImage
        fields = ["sha256", "name", "facts", "model", "source", "by", "at"]


@dataclass(frozen=True, slots=True)
class RankedImageAnswer:
    """An image against what this card needs."""

    image: Annotated[Any, declared(ImageSerializer())]
    score: int
    fits: Sequence[str]
    misfits: Sequence[str]


class ByteRunSerializer(serializers.Serializer[Any]):
    """Bytes in a row that differ."""

    offset = serializers.IntegerField()
    length = serializers.IntegerField()
    bits = serializers.IntegerField()
    text_old = serializers.CharField(allow_blank=True)
    text_new = serializers.CharField(allow_blank=True)
    says = serializers.CharField()


class ImageDiffSerializer(serializers.Serializer[Any]):
    """Two images compared."""

    size = serializers.IntegerField()
    differing_bytes = serializers.IntegerField()
    differ = serializers.ChoiceField(choices=KINDS, source="kind")
    why = serializers.CharField()
    many_runs = serializers.IntegerField()
    runs = ByteRunSerializer(many=True)


class ImageReadSerializer(serializers.ModelSerializer[ImageRead]):
    """A read of the card's storage."""

    sha256 = serializers.CharField(source="image_id")
    size = serializers.IntegerField(source="image.size")
    by = serializers.CharField(source="by.shown_name")

    class Meta:
        model = ImageRead
        fields = ["id", "sha256", "size", "chip_volts", "by", "at"]


class ImageWriteSerializer(serializers.ModelSerializer[ImageWrite]):
    """What was written."""

    id = serializers.UUIDField(source="act_id")
    image = ImageSerializer()
    old = serializers.CharField(source="old_id")
    result = serializers.ChoiceField(choices=list(RESULTS))
    note = serializers.CharField(source="act.note")
    by = serializers.CharField(source="act.by.shown_name")
    at = serializers.DateTimeField(source="act.at")

    class Meta:
        model = ImageWrite
        fields = ["id", "image", "old", "chip_volts", "power_off", "result", "note", "by", "at"]


@dataclass(frozen=True, slots=True)
class JobImagesAnswer:
    """The firmware of a job's card: reads, the old image once it counts, what the store offers, what was written."""

    volts: Sequence[float]
    reads: Annotated[Iterable[Any], declared(ImageReadSerializer(many=True))]
    old: Annotated[Any, declared(ImageSerializer(allow_null=True))]
    texts: Sequence[str]
    differ: Annotated[Any, declared(ImageDiffSerializer(allow_null=True))]
    wanted: Annotated[Any, declared(FactsSerializer())]
    store: Sequence[RankedImageAnswer]
    writes: Annotated[Iterable[Any], declared(ImageWriteSerializer(many=True))]


def _diff(found: ImageDiff | None) -> dict[str, Any] | None:
    if found is None:
        return None
    names = ("size", "differing_bytes", "kind", "why")
    shown = {name: getattr(found, name) for name in names}
    return {**shown, "many_runs": len(found.runs), "runs": [_run(run) for run in found.runs[:MOST_RUNS]]}


def _run(run: Run) -> dict[str, Any]:
    names = ("offset", "length", "bits", "text_old", "text_new")
    return {**{name: getattr(run, name) for name in names}, "says": explain(run)}


def _images(job: Job) -> Any:
    old = old_image(job)
    want = wanted(job, old.image)
    return written(
        JobImagesAnswer(
            volts=VOLTS,
            reads=old.reads,
            old=old.image,
            texts=texts_in(bytes(old.image.data)) if old.image else [],
            differ=_diff(old.differ),
            wanted=want,
            store=[
                RankedImageAnswer(image=image, score=fit.score, fits=fit.fits, misfits=fit.misfits)
                for image, fit in ranked(want)
            ],
            writes=ImageWrite.objects.filter(act__job=job, act__withdrawal=None)
            .order_by("act__at")
            .select_related("image__by", "act__by"),
        )
    )


class JobImages(APIView):
    """Firmware of a job's card."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=shape(JobImagesAnswer))
    def get(self, request: Request, number: int) -> Response:
        """As it stands."""
        return Response(_images(found_job(number)))


@dataclass(frozen=True, slots=True)
class NewRead:
    """A read of the storage chip; its volts are asked first."""

    entry: UUID
    chip_volts: Annotated[float, given(min_value=0.5, max_value=6)]
    file: Annotated[Any, declared(serializers.FileField())]


def _bytes(file: Any, largest: int) -> bytes:
    if file.size > largest:
        raise Problem(
            413,
            "too-large",
            gettext(
                "{name}: found {size} bytes, expected at most {largest}.",
                name=file.name,
                size=file.size,
                largest=largest,
            ),
        )
    data: bytes = file.read()
    return data


class JobImageReads(APIView):
    """Reads of the storage chip."""

    roles = {"POST": BENCH}
    parser_classes = [MultiPartParser]

    @extend_schema(request={"multipart/form-data": shape(NewRead)}, responses={201: shape(JobImagesAnswer)})
    def post(self, request: Request, number: int) -> Response:
        """Keep one; two alike in a row make the old image count."""
        entry, job = entry_of(request, NewRead), found_job(number)
        data = _bytes(entry.file, LARGEST_IMAGE)
        read_image(job, entry.entry, (entry.file.name, data), entry.chip_volts, person(request))
        return Response(_images(job), 201)


class JobImageWrites(APIView):
    """Writes."""

    roles = {"POST": BENCH}

    @extend_schema(request=shape(NewImageWrite), responses={201: shape(JobImagesAnswer), 200: shape(JobImagesAnswer)})
    def post(self, request: Request, number: int) -> Response:
        """Enter one; the old image is kept first."""
        entry, job = entry_of(request, NewImageWrite), found_job(number)
        _, new = write_image(job, entry, person(request))
        return Response(_images(job), 201 if new else 200)


@dataclass(frozen=True, slots=True)
class NewImage:
    """An image for the store; `facts` is the small JSON beside it."""

    file: Annotated[Any, declared(serializers.FileField())]
    origin: Annotated[str, given(max_length=200)]
    facts: Annotated[Any, declared(serializers.FileField(required=False))] = None
    model: Annotated[str, given(max_length=64, allow_blank=True)] = ""


class Images(APIView):
    """The store of images."""

    roles = {"GET": EVERYONE, "POST": BENCH}
    parser_classes = [MultiPartParser]

    @extend_schema(responses=ImageSerializer(many=True), operation_id="images")
    def get(self, request: Request) -> Response:
        """All of them."""
        rows = FirmwareImage.objects.defer("data").select_related("model", "by")
        return Response(ImageSerializer(rows, many=True).data)

    @extend_schema(
        request={"multipart/form-data": shape(NewImage)}, responses={201: ImageSerializer}, operation_id="image_keep"
    )
    def post(self, request: Request) -> Response:
        """Keep one."""
        entry = entry_of(request, NewImage)
        beside = entry.facts
        slug = entry.model
        model = get_object_or_404(BoardModel, slug=slug) if slug else None
        origin = Origin(entry.file.name, entry.origin, model)
        facts = _bytes(beside, LARGEST_FACTS) if beside else None
        kept = keep_image(_bytes(entry.file, LARGEST_IMAGE), facts, origin, person(request))
        return Response(ImageSerializer(kept).data, 201)


class ImageFile(APIView):
    """An image's bytes."""

    roles = {"GET": BENCH}

    @extend_schema(responses={(200, "application/octet-stream"): OpenApiTypes.BINARY})
    def get(self, request: Request, sha256: str) -> HttpResponse:
        """As they came."""
        image = get_object_or_404(FirmwareImage, pk=sha256.replace("\0", ""))
        answer = HttpResponse(bytes(image.data), content_type="application/octet-stream")
        answer["Content-Disposition"] = f'attachment; filename="{image.pk[:12]}.bin"'
        return answer


class ByteLineSerializer(serializers.Serializer[Any]):
    """Sixteen bytes of both images."""

    offset = serializers.IntegerField()
    old_hex = serializers.CharField(allow_blank=True)
    new_hex = serializers.CharField(allow_blank=True)
    old_text = serializers.CharField(allow_blank=True)
    new_text = serializers.CharField(allow_blank=True)
    differs = serializers.ListField(child=serializers.IntegerField())


class ImagesComparedSerializer(ImageDiffSerializer):
    """Two images compared, and their bytes from an offset on."""

    lines = ByteLineSerializer(many=True)


class ImagesCompared(APIView):
    """Two images beside each other."""

    roles = {"GET": EVERYONE}

    @extend_schema(
        parameters=[OpenApiParameter("begin", OpenApiTypes.INT)],
        responses=ImagesComparedSerializer,
        operation_id="images_compared",
    )
    def get(self, request: Request, sha256: str, other: str) -> Response:
        """What differs, and a page of bytes."""
        one, two = (get_object_or_404(FirmwareImage, pk=name.replace("\0", "")) for name in (sha256, other))
        text = request.query_params.get("begin", "0")
        begin = int(text) if text.isascii() and text.isdigit() and len(text) < 10 else 0
        old, new = bytes(one.data), bytes(two.data)
        shown = _diff(compare(old, new)) or {}
        return Response(ImagesComparedSerializer({**shown, "lines": byte_lines(old, new, begin, MOST_LINES)}).data)
