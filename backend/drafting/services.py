"""What can be changed in drafting: stocks of one's own, and whether a class's experience is applied."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from django.db import transaction
from django.utils import timezone

from drafting.models import ClassCorrection, OwnStock
from girder_core.ground import GirderError
from girder_core.measure import Kind, Quantity, units
from girder_core.physics import (
    STOCKS,
    Calibration,
    Droop,
    Form,
    Stock,
    droop_stiffness,
    grammage_from_sheets,
    own_sheet,
    stated_grammage,
    thickness_from_stack,
    with_stiffness,
)
from people.models import SchoolClass, Teacher


@dataclass(frozen=True)
class TriedStock:
    """What the typed measurements of a stock make: mass by area, thickness, droop where it was tried, the stock."""

    grammage: Quantity
    thickness: Quantity
    droop: Droop | None
    stock: Stock


def _read(typed: Mapping[str, Any], key: str, kind: Kind, problems: dict[str, str]) -> float | None:
    text = str(typed.get(key) or "").strip()
    if not text:
        return None
    try:
        return units.parse(text, kind).si
    except GirderError as error:
        problems[key] = error.sentence
        return None


def _needed(values: Mapping[str, float | None], keys: tuple[str, ...], problems: dict[str, str], what: str) -> bool:
    missing = [key for key in keys if values[key] is None and key not in problems]
    for key in missing:
        problems[key] = f"Needed for {what}."
    return not missing and not any(key in problems for key in keys)


def try_stock(typed: Mapping[str, Any]) -> TriedStock:
    """Work a stock out from what was typed; nothing is kept.

    Errors: ``bad_stock`` with a sentence per field.
    """
    problems: dict[str, str] = {}
    like = STOCKS.get(typed["like"])
    if like is None or like.form is not Form.SHEET:
        problems["like"] = "Choose the sheet that it is most like."
    lengths = ("thickness", "sheet_width", "sheet_length", "overhang", "droop", "ruler_step")
    values = {key: _read(typed, key, Kind.LENGTH, problems) for key in lengths}
    values |= {key: _read(typed, key, Kind.MASS, problems) for key in ("sheets_mass", "scale_step")}
    grammage = thickness = None
    if _needed(values, ("thickness",), problems, "every stock") and values["thickness"] is not None:
        try:
            thickness = thickness_from_stack(values["thickness"], int(typed.get("stack") or 1))
        except GirderError as error:
            problems["thickness"] = error.sentence
    if typed.get("grammage"):
        grammage = stated_grammage(float(typed["grammage"]) / 1000)
    elif _needed(values, ("sheets_mass", "sheet_width", "sheet_length", "scale_step"), problems, "the weighing"):
        try:
            grammage = grammage_from_sheets(
                values["sheets_mass"] or 0, int(typed.get("sheets") or 1), values["sheet_width"] or 0,
                values["sheet_length"] or 0, values["scale_step"] or 0,
            )  # fmt: skip
        except GirderError as error:
            problems["sheets_mass"] = error.sentence
    droop = None
    tried = values["overhang"] is not None or values["droop"] is not None
    if tried and grammage and thickness and _needed(values, ("overhang", "droop", "ruler_step"), problems, "the droop"):
        try:
            droop = droop_stiffness(
                values["overhang"] or 0, values["droop"] or 0, grammage, thickness, values["ruler_step"] or 0
            )
        except GirderError as error:
            problems[str(error.data.get("field") or "droop").removesuffix("_m")] = error.sentence
    stock = None
    if like and grammage and thickness and not problems:
        try:
            stock = own_sheet("own", typed["name"] or "it", grammage.value, thickness.value, like)
            if droop:
                stock = with_stiffness(stock, droop.modulus_pa)
        except GirderError as error:
            problems[
                {"thickness_m": "thickness", "droop_m": "droop"}.get(str(error.data.get("field")), "thickness")
            ] = error.sentence
    if problems:
        raise GirderError("bad_stock", next(iter(problems.values())), fields=problems)
    assert grammage is not None and thickness is not None and stock is not None
    return TriedStock(grammage, thickness, droop, stock)


def add_stock(teacher: Teacher, typed: Mapping[str, Any]) -> OwnStock:
    """Keep a stock; errors as ``try_stock``, and ``stock_without_name``."""
    if not typed["name"].strip():
        sentence = "Give it a name, so that it can be found."
        raise GirderError("stock_without_name", sentence, fields={"name": sentence})
    tried = try_stock(typed)
    modulus = tried.droop.modulus_pa if tried.droop else None
    return OwnStock.objects.create(
        owner=teacher,
        name=" ".join(typed["name"].split()),
        like=typed["like"],
        grammage_kg_m2=tried.grammage.value,
        thickness_m=tried.thickness.value,
        modulus_pa=modulus.value if modulus else None,
        modulus_uncertainty_pa=modulus.standard_uncertainty if modulus else None,
        typed=dict(typed),
    )


def drop_stock(stock: OwnStock) -> None:
    """Forget a stock."""
    stock.delete()


def apply_correction(
    school_class: SchoolClass, family: str, material: str, calibration: Calibration
) -> ClassCorrection:
    """Apply what a class's trials say from now on, in place of what was applied before."""
    with transaction.atomic():
        withdraw_correction(school_class, family, material)
        return ClassCorrection.objects.create(
            school_class=school_class, family=family, material=material, count=calibration.count,
            measured=calibration.measured, correction=calibration.correction, scatter_log=calibration.scatter_log,
            doubt_log=calibration.doubt_log,
        )  # fmt: skip


def withdraw_correction(school_class: SchoolClass, family: str, material: str) -> None:
    """Go back to the model alone; what was applied stays on record."""
    rows = ClassCorrection.objects.filter(
        school_class=school_class, family=family, material=material, withdrawn_at=None
    )
    rows.update(withdrawn_at=timezone.now())
