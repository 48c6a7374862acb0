"""Standards over HTTP: what counts, where it comes from, and what a change would do."""

from __future__ import annotations

from typing import Any, get_args

from django.contrib.auth.models import User
from drf_spectacular.utils import extend_schema
from rest_framework import serializers as s
from rest_framework.exceptions import NotFound
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from sulvet.accounts.errors import Refused
from sulvet.accounts.roles import demand_administrator
from sulvet.accounts.shapes import Plain, shape, valid
from sulvet.accounts.types import account_of, teacher_of
from sulvet.band.serializers import SchoolSerializer
from sulvet.calibration.agreement import agreement
from sulvet.calibration.standard_effect import Effect, effect, rejudge_all
from sulvet.core.anatomy.scale import sizes
from sulvet.core.drawing.sheet import Drawing
from sulvet.core.drawing.zones import dragged, zones_of
from sulvet.core.judgement.schema import Band, Edges
from sulvet.core.judgement.standards import Standard, StandardError, shipped_standard
from sulvet.core.language import gettext_noop, said
from sulvet.core.measures.catalogue import Views, catalogue
from sulvet.standards import services
from sulvet.standards.selectors import base_of, shared_of, standard_of, versions_of
from sulvet.takes.pages.shapes import VIEWS
from sulvet.takes.pages.sound import TargetRow


class EdgesSerializer(Plain):
    """The figures of a band."""

    low = s.FloatField(allow_null=True)
    high = s.FloatField(allow_null=True)
    watch_low = s.FloatField(min_value=0)
    watch_high = s.FloatField(min_value=0)


class BandSerializer(EdgesSerializer):
    """A band as it counts now, and as it does where the teacher changes nothing."""

    key = s.CharField()
    measure = s.CharField()
    name = s.CharField()
    unit = s.CharField()
    decimals = s.IntegerField()
    view = s.ChoiceField([(one, one) for one in get_args(Views)])
    phases = s.ListField(child=s.CharField())
    schools = s.ListField(child=s.CharField())
    note = s.CharField()
    base = EdgesSerializer()
    changed = s.BooleanField()


class VersionSerializer(Plain):
    """One of the teacher's own versions."""

    edition = s.IntegerField()
    words = s.CharField()
    made_at = s.DateTimeField()
    bands = s.IntegerField()


class SharedSerializer(Plain):
    """What the school's teachers share, as it counts now."""

    words = s.CharField()
    made_at = s.DateTimeField()
    bands = s.IntegerField()


class ShareInSerializer(Plain):
    """What a school's limits are for."""

    words = s.CharField(max_length=200, allow_blank=True, default="")


class AgreementSerializer(Plain):
    """How often the teacher agrees on one fault; kappa with its 95 % interval."""

    fault = s.CharField()
    name = s.CharField()
    confirmed = s.IntegerField()
    dismissed = s.IntegerField()
    added = s.IntegerField()
    neither = s.IntegerField()
    kappa = s.FloatField(allow_null=True)
    low = s.FloatField(allow_null=True)
    high = s.FloatField(allow_null=True)
    suggestion = s.CharField(allow_blank=True)


class SizeSerializer(Plain):
    """A common size that millimetres are taken from."""

    words = s.CharField()
    mm = s.FloatField()
    sigma = s.FloatField()


class OwnStandardSerializer(Plain):
    """One instrument's standard as it counts for the teacher."""

    instrument = s.CharField()
    name = s.CharField()
    version = s.CharField()
    film = s.ListField(child=s.CharField())
    targets = shape(TargetRow, many=True)
    sizes = SizeSerializer(many=True)
    schools = SchoolSerializer(many=True)
    bands = BandSerializer(many=True)
    versions = VersionSerializer(many=True)
    shared = SharedSerializer(allow_null=True)
    may_share = s.BooleanField()
    agreement = AgreementSerializer(many=True)


class ChangesInSerializer(Plain):
    """Figures by band; those that are left out are the shipped ones."""

    bands = s.DictField(child=EdgesSerializer())
    words = s.CharField(max_length=200, allow_blank=True, default="")
    school = s.CharField(max_length=30, allow_blank=True, default="")


class ComesSerializer(Plain):
    """How often a fault would come and go."""

    fault = s.CharField()
    name = s.CharField()
    came = s.IntegerField()
    went = s.IntegerField()


class EffectSerializer(Plain):
    """What a change would do to the stored takes."""

    takes = s.IntegerField()
    readings = s.IntegerField()
    faults = ComesSerializer(many=True)


class DragSerializer(Plain):
    """Where the nearest edge of a zone is dragged to, on the sheet."""

    zone = s.ChoiceField(["ch_r", "ch_l", "rim", "chin", "depth"])
    x = s.FloatField()
    y = s.FloatField()


class ZonesInSerializer(Plain):
    """Which zones to draw, by which figures, and what is dragged."""

    bands = s.DictField(child=EdgesSerializer())
    school = s.CharField(max_length=30)
    view = s.ChoiceField(VIEWS)
    drag = DragSerializer(allow_null=True, default=None)


class ZonesSerializer(Plain):
    """The zones on a plain face, and the figures as they then are."""

    drawing = shape(Drawing)
    bands = s.DictField(child=EdgesSerializer())
    told = s.CharField(allow_blank=True)


FIGURES = tuple(Edges.model_fields)


def _band(band: Band, base: Band) -> dict[str, Any]:
    measure = catalogue().measure(band.measure)
    figures = {name: getattr(band, name) for name in FIGURES}
    first = {name: getattr(base, name) for name in FIGURES}
    return {
        **figures,
        "key": band.key,
        "measure": band.measure,
        "name": measure.name,
        "unit": measure.unit,
        "decimals": measure.decimals,
        "view": band.view,
        "phases": band.phases,
        "schools": band.schools,
        "note": band.note,
        "base": first,
        "changed": figures != first,
    }


#: What a block of the known sizes is about: block, figure, words.
SIZES = (
    ("rim", "mm", gettext_noop("outer diameter of the rim")),
    ("mouthpiece", "mm", gettext_noop("width at the lips")),
    ("beak", "mark", gettext_noop("tip to the near edge of the ligature or first wire")),
    ("hole", "mm", gettext_noop("width of the blow hole")),
)


def _sizes(instrument: str) -> list[dict[str, Any]]:
    """The common sizes that millimetres of this instrument are taken from."""
    table = sizes()
    return [
        {"words": said(words), "mm": row[figure], "sigma": row["sigma"]}
        for block, figure, words in SIZES
        for row in [table[block].get(instrument)]
        if row is not None
    ]


def _page(teacher: User, instrument: str) -> dict[str, Any]:
    standard, shared = standard_of(teacher, instrument), shared_of(teacher, instrument)
    first = {band.key: band for band in base_of(teacher, instrument).all_bands}
    bands = sorted(standard.all_bands, key=lambda b: (b.view, catalogue().place(b.measure)))
    return {
        "instrument": standard.instrument,
        "name": standard.name,
        "version": standard.label,
        "film": standard.film,
        "targets": [target.model_dump() for target in standard.targets],
        "sizes": _sizes(instrument),
        "schools": [school.model_dump() for school in standard.schools],
        "bands": [_band(band, first[band.key]) for band in bands],
        "versions": [
            {"edition": v.edition, "words": v.words, "made_at": v.made_at, "bands": len(v.edges)}
            for v in versions_of(teacher, instrument)
        ],
        "shared": None if shared is None else {
            "words": shared.words, "made_at": shared.made_at, "bands": len(shared.edges),
        },
        "may_share": teacher.is_staff,
        "agreement": agreement(teacher, standard),
    }  # fmt: skip


def _told(done: Effect) -> Response:
    row = {"takes": done.takes, "readings": done.readings, "faults": done.rows()}
    return Response(EffectSerializer(row).data)


class _View(APIView):
    """Base of views on one standard."""

    def check(self, instrument: str) -> None:
        """404 for an instrument there is no standard for."""
        try:
            shipped_standard(instrument)
        except StandardError as error:
            raise NotFound(str(error)) from error


class OwnStandardView(_View):
    """One instrument's standard."""

    @extend_schema(responses=OwnStandardSerializer, operation_id="own_standard")
    def get(self, request: Request, instrument: str) -> Response:
        """As it counts now, with where every figure comes from."""
        self.check(instrument)
        return Response(OwnStandardSerializer(_page(teacher_of(request), instrument)).data)

    @extend_schema(
        request=ChangesInSerializer,
        responses=OwnStandardSerializer,
        operation_id="save_standard",
    )
    def put(self, request: Request, instrument: str) -> Response:
        """Save a new version; stored takes are judged by it at once."""
        self.check(instrument)
        teacher = teacher_of(request)
        given = ChangesInSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        said = given.validated_data
        old = standard_of(teacher, instrument)
        standard = services.save(
            teacher, instrument, _plain(said["bands"]), said["words"], said["school"]
        )
        rejudge_all(teacher, old, standard)
        return self.get(request, instrument)


class SharedStandardView(_View):
    """What all teachers of a school share of one instrument's standard."""

    @extend_schema(
        request=ShareInSerializer, responses=OwnStandardSerializer, operation_id="share_standard"
    )
    def put(self, request: Request, instrument: str) -> Response:
        """An administrator's standard becomes the school's; the worker judges its takes anew."""
        self.check(instrument)
        teacher = teacher_of(request)
        demand_administrator(account_of(request))
        services.share(teacher, instrument, valid(ShareInSerializer, request)["words"])
        return Response(OwnStandardSerializer(_page(teacher, instrument)).data)

    @extend_schema(responses={200: OwnStandardSerializer}, operation_id="stop_sharing_standard")
    def delete(self, request: Request, instrument: str) -> Response:
        """The shipped standard counts again."""
        self.check(instrument)
        teacher = teacher_of(request)
        demand_administrator(account_of(request))
        services.stop_sharing(teacher, instrument)
        return Response(OwnStandardSerializer(_page(teacher, instrument)).data)


class EffectView(_View):
    """What a change would do."""

    @extend_schema(
        request=ChangesInSerializer, responses=EffectSerializer, operation_id="standard_effect"
    )
    def post(self, request: Request, instrument: str) -> Response:
        """Count without writing anything."""
        self.check(instrument)
        teacher = teacher_of(request)
        given = ChangesInSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        said = given.validated_data
        standard, _ = services.wanted(teacher, instrument, _plain(said["bands"]), said["school"])
        return _told(effect(teacher, standard_of(teacher, instrument), standard))


class ZonesView(_View):
    """The zones of a standard on a plain face."""

    @extend_schema(
        request=ZonesInSerializer, responses=ZonesSerializer, operation_id="standard_zones"
    )
    def post(self, request: Request, instrument: str) -> Response:
        """Draw them by these figures, after an edge has been dragged."""
        self.check(instrument)
        teacher = teacher_of(request)
        given = ZonesInSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        bands, view = _plain(given.validated_data["bands"]), given.validated_data["view"]
        standard, differ = services.wanted(teacher, instrument, bands)
        school = _school(standard, given.validated_data["school"])
        told, drag = "", given.validated_data["drag"]
        if drag is not None:
            try:
                meant = dragged(standard, view, school, drag["zone"], (drag["x"], drag["y"]))
            except KeyError as error:
                raise Refused("This drawing has no such zone.") from error
            band = standard.band(meant.measure, view, school)
            assert band is not None
            figures = {name: getattr(band, name) for name in FIGURES} | {meant.figure: meant.value}
            standard, differ = services.wanted(teacher, instrument, differ | {band.key: figures})
            told = band.key
        drawing = zones_of(standard, view, school).plain()
        row = {"drawing": drawing, "bands": differ, "told": told}
        return Response(ZonesSerializer(row).data)


def _school(standard: Standard, school: str) -> str:
    try:
        return standard.school(school or None).id
    except StandardError as error:
        raise Refused(str(error)) from error


def _plain(bands: dict[str, dict[str, Any]]) -> services.Figures:
    return {key: dict(figures) for key, figures in bands.items()}
