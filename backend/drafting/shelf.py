"""The stocks there are for a teacher, and the correction of a class that is in force."""

from __future__ import annotations

from collections.abc import Mapping

from drafting.models import ClassCorrection, OwnStock
from girder_core.physics import STOCKS, Calibration, Stock
from people.models import SchoolClass, Teacher


def shelf(teacher: Teacher) -> Mapping[str, Stock]:
    """Shipped stocks and the teacher's own, by key."""
    own = {stock.key: stock.core() for stock in OwnStock.objects.filter(owner=teacher)}
    return {**STOCKS, **own}


def in_force(school_class: SchoolClass, family: str) -> Mapping[str, Calibration]:
    """The corrections applied for a class and family, by material."""
    rows = ClassCorrection.objects.filter(school_class=school_class, family=family, withdrawn_at=None)
    return {row.material: row.core() for row in rows}
