"""What can be done in a school that reaches up to the runs of its classes."""

from __future__ import annotations

from django.db import transaction

from people.models import LEAD, SchoolClass, Teacher
from people.schools import shut
from runs.handing_over import hand_over


def remove_teacher(teacher: Teacher) -> list[str]:
    """Remove somebody from a school: nobody signs in to the account, and after a while it is gone with all that is its
    own. Classes that a colleague leads with them go to that colleague, because these were shared by their teacher; all
    others are nobody else's.

    Returns:
        Each class that went on, and to whom, in words.
    Errors:
        ``last_administrator``.
    """
    went = []
    with transaction.atomic():
        shut(teacher)
        for school_class in SchoolClass.objects.filter(owner=teacher):
            leads = school_class.colleagues.filter(
                part=LEAD, ended_at=None, teacher__school=teacher.school, teacher__is_active=True,
                teacher__leaving_at=None,
            )  # fmt: skip
            to = leads.select_related("teacher").order_by("since", "id").first()
            if to is not None:
                hand_over(school_class, to.pk)
                went.append(f"{school_class.name} went to {to.teacher.name}")
    return went
