"""What can be done with pictures and cards: one verb per change, each in one transaction."""

from __future__ import annotations

import json
import uuid
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from django.core.files.base import File
from django.db import transaction
from django.utils import timezone

from camera.found import TOO_MUCH, Found, Line, unpacked
from camera.models import CardSet
from camera.selectors import lens_of, printed_scale_of
from designs import services as designs
from designs.models import MEASURED, Design, Photo, Reading
from designs.photo_services import bytes_sent, keep_made
from evengirder.aside import read_aside
from girder_core.families import ReadingSpec
from girder_core.ground import GirderError
from girder_core.measure import Kind, System, TypedReading, plausibly, units
from girder_core.photo import (
    Frame,
    Pointed,
    Seen,
    Size,
    View,
    better_told,
    cards,
    doubt_told,
    judged,
    plainly_typed,
    plane_said,
    printed_scale,
    see,
    size_of,
    size_told,
    taken_as_it_is,
    typed_as,
)
from girder_core.trial import BenchMeasure
from people.models import Teacher


def measure_bar(teacher: Teacher, number: int, bar_text: str, step_text: str) -> CardSet:
    """Write down how long the bar of a set's cards is; errors of ``printed_scale`` and of units, at the field."""
    cards(number)
    try:
        bar = units.parse(bar_text, Kind.LENGTH, "mm")
        scale = printed_scale(bar.si, units.parse(step_text, Kind.LENGTH, "mm").si)
    except GirderError as error:
        raise GirderError(error.code, error.sentence, fields={"bar_text": error.sentence}) from None
    row, _ = CardSet.objects.update_or_create(
        owner=teacher,
        number=number,
        defaults={
            "bar_text": f"{bar.value:g} {bar.unit}", "step_text": step_text, "scale": scale.value,
            "scale_uncertainty": scale.standard_uncertainty, "measured_at": timezone.now(),
        },
    )  # fmt: skip
    return row


def look_at(upload: File[bytes], lines: Sequence[Line] = ()) -> Found:
    """What is in a picture, found in a process of its own; errors: ``bad_photo``, ``busy``."""
    return unpacked(read_aside("camera.picture_file", bytes_sent(upload), json.dumps(lines), too_much=TOO_MUCH))


def seen_in(found: Found, today: date, confirmed: bool, tablet: uuid.UUID | None = None) -> View:
    """The view that a picture gives, taken by this tablet; errors of ``judged`` and ``taken_as_it_is``."""
    view = judged(found.look, lens_of(tablet, found.look.frame))
    days = None if found.taken is None else (today - found.taken).days
    taken_as_it_is(found.look, days, f"{found.taken:%-d %B %Y}" if found.taken else "", confirmed)
    return view


@dataclass(frozen=True)
class Asked:
    """What is measured of a design in a picture: by whom, which reading, by which points, where they lie, as typed, and
    which tablet took it, where its lens was calibrated."""

    by: Teacher
    key: str
    points: tuple[tuple[float, float], ...]
    before_text: str = ""
    within_text: str = ""
    outlines: tuple[int, ...] = ()
    tablet: uuid.UUID | None = None

    def pointed(self) -> Pointed:
        return Pointed(self.points, plane_m=plane_said(self.before_text, self.within_text), outlines=self.outlines)


@dataclass(frozen=True)
class Measured:
    """What came of it: the size, as it would have been typed, and what may be said about it."""

    kind: Kind
    size: Size
    text: str
    doubt: str
    better: str

    def typed(self, system: System) -> tuple[str, str]:
        """It as the bench writes it down, and the step of a tape that would leave as much open."""
        return plainly_typed(self.size, self.kind, system)


def pictured(design: Design, key: str) -> ReadingSpec | BenchMeasure:
    """What is to be measured of a design in a picture: a reading of check-in, or where there is none of this key a
    length of the bench. Errors: ``unknown_reading``, ``not_pictured``."""
    own = [spec for spec in design.run.core_family().readings if spec.key == key]
    at_bench = design.run.trial_setup().measures.get(key)
    spec = at_bench if at_bench is not None and not own else designs.spec_of(design, key)
    if not spec.pictured:
        raise GirderError("not_pictured", "Only lengths and areas can be measured in a picture.")
    return spec


def size_in(design: Design, marks: Sequence[Seen], frame: Frame, asked: Asked) -> Measured:
    """What is pointed at in a picture comes to; nothing is kept. Errors of ``see`` and ``size_of``."""
    view = see(marks, frame, lens_of(asked.tablet, frame))
    return _measured(design, view, marks, frame, asked)


def _measured(design: Design, view: View, marks: Sequence[Seen], frame: Frame, asked: Asked) -> Measured:
    owner = design.run.school_class.owner
    kind, system = pictured(design, asked.key).kind, System(owner.units)
    printed, pointed = printed_scale_of(view.set_number, asked.by, owner), asked.pointed()
    size = size_of(view, pointed, kind, printed)
    return Measured(
        kind, size, typed_as(view, pointed, size, kind, printed, system), doubt_told(view, size, kind, printed, system),
        better_told(view, marks, frame, pointed, kind, printed, system),
    )  # fmt: skip


def measured_in(
    design: Design, upload: File[bytes], asked: Asked, today: date, picture_confirmed: bool
) -> tuple[Found, Measured]:
    """What a picture shows and what is pointed at in it comes to, looked at here, whatever the browser found in it.

    Errors: those of ``pictured``, ``seen_in`` and ``size_of``.
    """
    closed = pictured(design, asked.key).kind is Kind.AREA
    outlines = [list(asked.points[part]) for part in asked.pointed().each_outline()]
    found = look_at(upload, [[*outline, outline[0]] if closed else outline for outline in outlines])
    view = seen_in(found, today, picture_confirmed, asked.tablet)
    return found, _measured(design, view, found.look.marks, found.look.frame, asked)


def take_photographed(
    design: Design,
    upload: File[bytes],
    asked: Asked,
    today: date,
    picture_confirmed: bool,
    confirmed: bool,
    again: bool = False,
    sent_as: uuid.UUID | None = None,
) -> Reading:
    """Take a reading from a picture, and keep the picture with what was pointed at drawn into it.

    The picture is looked at here, whatever the browser found in it; what was asked about it, and about the size, is
    confirmed each by itself. Errors: those of ``seen_in``, ``size_of`` and ``plausibly``, ``too_many_photos``.
    """
    if sent_as is not None and (there := Reading.objects.filter(sent_as=sent_as).first()) is not None:
        return there
    spec = designs.spec_of(design, asked.key)
    found, measured = measured_in(design, upload, asked, today, picture_confirmed)
    size, system = measured.size.quantity, System(design.run.school_class.owner.units)
    plausibly(size, spec.kind, design.run.core_family().plausible(spec, design.run.setup), confirmed, system)
    _, step = measured.typed(system)
    caption = f"{spec.label}: {size_told(measured.size, spec.kind, system)}"
    with transaction.atomic():
        reading = designs.take_photographed(
            design, asked.key, size, TypedReading(measured.text, step), measured.size.parts, again, sent_as
        )
        photo = Photo(design=design, what=MEASURED, sent_as=sent_as, caption=caption)
        keep_made(photo, found.small, found.width, found.height)
    return reading
