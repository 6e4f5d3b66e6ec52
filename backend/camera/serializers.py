"""Shapes of what is found and measured in pictures. Everything is SI, and pixels."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from camera.found import CAMERA_NAME
from evengirder.fields import DayField
from girder_core.photo import MOST_PICTURES, MOST_PIECES
from girder_core.trial import Lay

MOST_MARKS = 64
_FAR_PX = 100_000


class PixelField(serializers.FloatField):
    """Where something is in a picture, along one of its sides [px]."""

    def __init__(self, **kwargs: Any) -> None:
        super().__init__(min_value=-_FAR_PX, max_value=_FAR_PX, **kwargs)


class PointField(serializers.ListField):
    """A point of a picture: x to the right and y down [px]."""

    def __init__(self, **kwargs: Any) -> None:
        super().__init__(child=PixelField(), min_length=2, max_length=2, **kwargs)


class SeenMarkSerializer(serializers.Serializer[Any]):
    """A mark of a card, with its corners."""

    id = serializers.IntegerField(min_value=0, max_value=10_000)
    corners = serializers.ListField(child=PointField(), min_length=4, max_length=4)


class SeenFrameSerializer(serializers.Serializer[Any]):
    """The picture that marks were found in."""

    width_px = serializers.IntegerField(min_value=1, max_value=20_000)
    height_px = serializers.IntegerField(min_value=1, max_value=20_000)
    focal_px = serializers.FloatField(min_value=10, max_value=_FAR_PX, allow_null=True)
    # What the camera calls itself; empty where it says nothing.
    camera = serializers.CharField(max_length=CAMERA_NAME, allow_blank=True, default="")


class SeenCardSerializer(serializers.Serializer[Any]):
    """A card in a picture: its name, and the rim of its paper."""

    key = serializers.CharField()
    name = serializers.CharField()
    rim = serializers.ListField(child=PointField())


class LookSerializer(serializers.Serializer[Any]):
    """What was found in a picture.

    ``grid`` are lines in the plane of the cards, ten centimetres or four inches apart; ``edges`` are straight edges to
    which an end can be moved; ``ends`` where both ends of a length, or the corners of an area, probably are; none where
    nobody knows.
    """

    frame = SeenFrameSerializer()
    marks = SeenMarkSerializer(many=True)
    cards = SeenCardSerializer(many=True)
    set_number = serializers.IntegerField()
    # Whether somebody measured the bar of this set.
    bar_measured = serializers.BooleanField()
    # Whether the tablet's calibrated lens counts in it.
    lens_known = serializers.BooleanField()
    notes = serializers.ListField(child=serializers.CharField())
    grid = serializers.ListField(child=serializers.ListField(child=PointField()))
    edges = serializers.ListField(child=serializers.ListField(child=PointField()))
    ends = serializers.ListField(child=PointField())


class NewPictureSerializer(serializers.Serializer[Any]):
    """A picture to be looked at, and which reading is to be taken from it."""

    photo = serializers.FileField(allow_empty_file=True)
    key = serializers.CharField(max_length=24)
    confirmed = serializers.BooleanField(default=False)
    # The day where it is measured, which the camera's is held against.
    today = DayField(required=False)
    # The name of the tablet that took it, where its lens was calibrated.
    tablet = serializers.UUIDField(required=False)


class PointedSerializer(serializers.Serializer[Any]):
    """What is pointed at: which reading it is, the points, and where they lie.

    ``before_text`` is how far they are before the plane of the cards, towards the camera, with a minus for behind it;
    empty for in it.
    """

    key = serializers.CharField(max_length=24)
    points = serializers.ListField(child=PointField(), min_length=1, max_length=60)
    # How many corners each outline of an area has, where it has several; one inside another is a hole.
    outlines = serializers.ListField(child=serializers.IntegerField(min_value=1), max_length=20, default=list)
    before_text = serializers.CharField(max_length=40, allow_blank=True, default="")
    within_text = serializers.CharField(max_length=40, allow_blank=True, default="")
    # The name of the tablet that took it, where its lens was calibrated.
    tablet = serializers.UUIDField(required=False)


class MarkedSerializer(serializers.Serializer[Any]):
    """A picture, and the marks that were found in it."""

    frame = SeenFrameSerializer()
    marks = SeenMarkSerializer(many=True)

    def validate_marks(self, marks: list[Any]) -> list[Any]:
        if not 1 <= len(marks) <= MOST_MARKS:
            raise serializers.ValidationError(f"A picture has 1 to {MOST_MARKS} marks.")
        return marks


class PointedInSerializer(MarkedSerializer, PointedSerializer):
    """What is pointed at, in a picture whose marks were found."""


class LensPictureSerializer(serializers.Serializer[Any]):
    """What a picture shows that a lens is calibrated with; ``rims`` are those of its cards."""

    frame = SeenFrameSerializer()
    marks = SeenMarkSerializer(many=True)
    rims = serializers.ListField(child=serializers.ListField(child=PointField()))


class CalibrateSerializer(serializers.Serializer[Any]):
    """The pictures that a lens is calibrated with, and whether what they tell is kept."""

    pictures = MarkedSerializer(many=True)
    keep = serializers.BooleanField(default=False)

    def validate_pictures(self, pictures: list[Any]) -> list[Any]:
        if not 1 <= len(pictures) <= MOST_PICTURES:
            raise serializers.ValidationError(f"A lens is calibrated with 1 to {MOST_PICTURES} pictures.")
        return pictures


class CalibratedSerializer(serializers.Serializer[Any]):
    """What they told: ``told`` in a sentence, empty where they are too few; ``wanted`` what a next one should be, empty
    where the lens is known well."""

    told = serializers.CharField(allow_blank=True)
    wanted = serializers.CharField(allow_blank=True)


class LensSerializer(serializers.Serializer[Any]):
    """A lens of a tablet that was calibrated."""

    told = serializers.CharField()
    pictures = serializers.IntegerField()
    calibrated_at = serializers.DateTimeField()
    camera = serializers.CharField(allow_blank=True)


class PhotographedSerializer(serializers.Serializer[Any]):
    """A reading from a picture: the picture, and as JSON what is pointed at in it."""

    photo = serializers.FileField(allow_empty_file=True)
    pointed = serializers.CharField(max_length=8000)
    # What was asked about the picture when it was looked at; ``confirmed`` is of what is measured in it.
    picture_confirmed = serializers.BooleanField(default=False)
    confirmed = serializers.BooleanField(default=False)
    again = serializers.BooleanField(default=False)
    today = DayField(required=False)
    # Its name, the same however often it is sent.
    sent_as = serializers.UUIDField(required=False)


class FollowSerializer(serializers.Serializer[Any]):
    """A first picture, a later one, and as JSON which measure of the bench it is and the point in the first."""

    first = serializers.FileField(allow_empty_file=True)
    now = serializers.FileField(allow_empty_file=True)
    pointed = serializers.CharField(max_length=8000)
    # Whether the later one is kept as the latest of its trial.
    keep = serializers.BooleanField(default=True)


class PictureAloneSerializer(serializers.Serializer[Any]):
    """A picture, and nothing else."""

    photo = serializers.FileField(allow_empty_file=True)


class LoosePieceSerializer(serializers.Serializer[Any]):
    """A piece that was found: its middle and radius, and whether it has to be looked at."""

    at = PointField()
    radius_px = serializers.FloatField()
    doubtful = serializers.BooleanField()


class LooseSerializer(serializers.Serializer[Any]):
    """The loose pieces of a picture; ``notes`` say what has to be looked at."""

    width_px = serializers.IntegerField()
    height_px = serializers.IntegerField()
    pieces = LoosePieceSerializer(many=True)
    notes = serializers.ListField(child=serializers.CharField())


class CountedThingSerializer(serializers.Serializer[Any]):
    """What was counted: a load object, on the structure or left, or what a measure of the bench asks for."""

    item = serializers.CharField(max_length=60, allow_blank=True, default="")
    lay = serializers.ChoiceField(choices=[lay.value for lay in Lay], default=Lay.ON.value)
    key = serializers.CharField(max_length=60, allow_blank=True, default="")


class CountedSerializer(CountedThingSerializer):
    """The same, and how many there are."""

    count = serializers.IntegerField(min_value=0, max_value=100_000)


class DotsSerializer(CountedThingSerializer):
    """The same, and where each of them is [px]."""

    dots = serializers.ListField(child=PointField(), min_length=1, max_length=2 * MOST_PIECES)


class CountedPictureSerializer(serializers.Serializer[Any]):
    """A picture of loose pieces, and as JSON what was counted and where each of them is."""

    photo = serializers.FileField(allow_empty_file=True)
    counted = serializers.CharField(max_length=60_000)
    # Its name, the same however often it is sent.
    sent_as = serializers.UUIDField(required=False)


class RecountSerializer(serializers.Serializer[Any]):
    """Whether a count is what the ledger has, in a sentence; ``text`` is it as a measurement would be typed."""

    agrees = serializers.BooleanField()
    sentence = serializers.CharField()
    text = serializers.CharField(allow_blank=True)


class GaveSerializer(serializers.Serializer[Any]):
    """How far a made-up structure gave way [m]."""

    by = serializers.FloatField(min_value=0, max_value=0.1, required=False)


class CauseSerializer(serializers.Serializer[Any]):
    """What one cause leaves open of a size."""

    key = serializers.CharField()
    words = serializers.CharField()
    expanded_uncertainty_si = serializers.FloatField()


class PhotoSizeSerializer(serializers.Serializer[Any]):
    """What was pointed at comes to: the value, as it would have been typed, how far off, why, and what would help."""

    value_si = serializers.FloatField()
    expanded_uncertainty_si = serializers.FloatField()
    text = serializers.CharField()
    doubt = serializers.CharField()
    better = serializers.CharField(allow_blank=True)
    causes = CauseSerializer(many=True)


class BenchSizeSerializer(PhotoSizeSerializer):
    """The same at the bench, with the step of a tape that would leave as much open."""

    step_text = serializers.CharField()


class BenchPictureSerializer(serializers.Serializer[Any]):
    """A picture at the bench, and as JSON what is pointed at in it."""

    photo = serializers.FileField(allow_empty_file=True)
    pointed = serializers.CharField(max_length=8000)
    # What was asked about the picture when it was looked at.
    picture_confirmed = serializers.BooleanField(default=False)
    today = DayField(required=False)
    # Its name, the same however often it is sent.
    sent_as = serializers.UUIDField(required=False)


class WentSerializer(serializers.Serializer[Any]):
    """How far something went since the first picture.

    ``value_si`` has a minus for up or to the left; ``text`` and ``step_text`` are as it would be typed at the bench;
    ``moved`` says whether the tablet was moved, ``at`` where the point is in the later picture [px].
    """

    value_si = serializers.FloatField()
    expanded_uncertainty_si = serializers.FloatField()
    text = serializers.CharField()
    step_text = serializers.CharField()
    told = serializers.CharField()
    doubt = serializers.CharField()
    causes = CauseSerializer(many=True)
    moved = serializers.CharField(allow_blank=True)
    at = PointField()


class CardSetSerializer(serializers.Serializer[Any]):
    """A set of cards; its bar and the ruler's step are empty until somebody measured it."""

    number = serializers.IntegerField()
    bar_text = serializers.CharField(allow_blank=True)
    step_text = serializers.CharField(allow_blank=True)
    scale = serializers.FloatField(source="scale.value")
    measured = serializers.BooleanField()


class BarSerializer(serializers.Serializer[Any]):
    """What a ruler says of the bar of a card."""

    bar_text = serializers.CharField(max_length=40)
    step_text = serializers.CharField(max_length=40, default="0.5 mm")
