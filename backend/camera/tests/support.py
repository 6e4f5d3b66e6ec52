"""A design of any challenge of the library, checked in and ready to be tested."""

from __future__ import annotations

from datetime import date

from challenges.library import take
from designs import services as designing
from designs.models import Design
from girder_core.families import SELF_MASS
from girder_core.measure import Kind, TypedReading, typed_text
from people.models import Teacher
from people.tests.support import school_class
from runs.tests.test_every_family import good_reading


def ready(owner: Teacher, recipe: str) -> Design:
    """The first design of a run by this recipe, with good readings."""
    run = designing.open_run(take(owner, recipe), school_class(owner), date(2026, 12, 1))
    design: Design = run.designs.all()[0]
    family = run.core_family()
    for spec in family.readings:
        if spec.needed:
            text = typed_text(good_reading(family, spec, run.setup), spec.kind)
            step = "0.1 g" if spec.key == SELF_MASS else "1 mm" if spec.kind is Kind.LENGTH else "1"
            designing.take_reading(design, spec.key, TypedReading(text, step), True)
    designing.answer(design, {question.key: question.good for question in family.questions})
    designing.check_in(design)
    return design
