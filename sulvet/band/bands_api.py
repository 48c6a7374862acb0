"""A teacher's bands over HTTP."""

from __future__ import annotations

from drf_spectacular.utils import extend_schema
from rest_framework import serializers as s
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from sulvet.accounts.shapes import Plain, id_list, valid
from sulvet.accounts.types import teacher_of
from sulvet.band import years
from sulvet.band.selectors import band_by_id, bands_of


class BandRowSerializer(Plain):
    """One band, and how many students it has."""

    id = s.IntegerField()
    name = s.CharField()
    year = s.CharField(allow_blank=True)
    size = s.IntegerField()
    shown = s.BooleanField()
    archived = s.BooleanField()


class NewBandSerializer(Plain):
    """A new band; ``students`` of the band shown now move up into it."""

    name = s.CharField(max_length=80)
    year = s.CharField(max_length=20, allow_blank=True, default="")
    students = id_list(default=list)
    archive = s.BooleanField(default=False)


class BandActionSerializer(Plain):
    """What happens to a band."""

    do = s.ChoiceField([("show", "work with it"), ("archive", "put it away")])


class BandListView(APIView):
    """All bands of a teacher."""

    @extend_schema(responses=BandRowSerializer(many=True), operation_id="bands")
    def get(self, request: Request) -> Response:
        """The one shown first, those of earlier years last."""
        rows = list(bands_of(teacher_of(request)))
        if rows and not any(row.shown for row in rows):
            rows[0].shown = True  # of an archive from before there were several
        return Response(BandRowSerializer(rows, many=True).data)

    @extend_schema(
        request=NewBandSerializer, responses=BandRowSerializer(many=True), operation_id="add_band"
    )
    def post(self, request: Request) -> Response:
        """Add a band and work with it; students may move up, and the band before be archived."""
        facts = valid(NewBandSerializer, request)
        facts["students"] = tuple(facts["students"])
        years.add_band(teacher_of(request), years.NewBand(**facts))
        return self.get(request)


class OneOfBandsView(BandListView):
    """One band of a teacher."""

    http_method_names = ["put", "delete", "options"]

    @extend_schema(
        request=BandActionSerializer,
        responses=BandRowSerializer(many=True),
        operation_id="choose_band",
    )
    def put(self, request: Request, band_id: int) -> Response:
        """Work with it from now on, or put it away."""
        band = band_by_id(teacher_of(request), band_id)
        {"show": years.show, "archive": years.archive}[valid(BandActionSerializer, request)["do"]](
            band
        )
        return self.get(request)

    @extend_schema(responses={200: BandRowSerializer(many=True)}, operation_id="delete_band")
    def delete(self, request: Request, band_id: int) -> Response:
        """Delete a band that has no students."""
        years.delete_band(band_by_id(teacher_of(request), band_id))
        return self.get(request)
