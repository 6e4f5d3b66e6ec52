"""A class goes from its teacher to a colleague, with all that hangs on it."""

from __future__ import annotations

from django.db import IntegrityError, transaction

from designs.models import Draft
from drafting.models import ClassCorrection, OwnStock
from girder_core.ground import GirderError
from people.models import LEAD, Colleague, SchoolClass, Teacher


def hand_over(school_class: SchoolClass, colleague: int) -> None:
    """Give a class to a colleague who is in it; who gave it leads it with the new teacher from then on.

    Sheets of the giver's own that drafts of the class are made of are copied, because drafts go on with them; recipes
    stay with who wrote them, since each run has its own copy of the terms. Errors: ``no_colleague``.
    """
    with transaction.atomic():
        locked = SchoolClass.objects.select_for_update(of=("self",)).select_related("owner").get(pk=school_class.pk)
        to = locked.colleagues.filter(pk=colleague, ended_at=None).select_related("teacher").first()
        if to is None:
            raise GirderError("no_colleague", "This colleague is not in the class any more. Choose another one.")
        giver, taker = locked.owner, to.teacher
        _copy_stocks(locked, giver, taker)
        to.delete()
        Colleague.objects.create(school_class=locked, teacher=giver, part=LEAD)
        locked.owner = taker
        try:
            with transaction.atomic():
                locked.save(update_fields=["owner"])
        except IntegrityError:
            # The new teacher has a class of that name.
            locked.name = f"{locked.name} ({giver.name})"[:80]
            locked.save(update_fields=["owner", "name"])


def _copy_stocks(school_class: SchoolClass, giver: Teacher, taker: Teacher) -> None:
    drafts = list(Draft.objects.filter(design__run__school_class=school_class))
    corrections = ClassCorrection.objects.filter(school_class=school_class)
    used = {correction.material for correction in corrections}
    used |= {text for draft in drafts for text in (draft.material, *draft.typed.values())}
    for stock in OwnStock.objects.filter(owner=giver):
        before = stock.key
        if before not in used:
            continue
        stock.pk, stock.owner = None, taker
        stock.save()
        for draft in drafts:
            if before in (draft.material, *draft.typed.values()):
                draft.material = stock.key if draft.material == before else draft.material
                draft.typed = {name: stock.key if text == before else text for name, text in draft.typed.items()}
                draft.save(update_fields=["material", "typed"])
        corrections.filter(material=before).update(material=stock.key)
