"""What stands in the printed sheets: contexts for the templates, one function per document."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from challenges.models import Terms
from challenges.shown import ShownPlan, shown_terms
from doorstep.codes import for_paper
from girder_core.families import Family, family_of
from girder_core.kit import CHANCE, NEEDED, PACKS
from girder_core.measure import System, format_mass
from girder_core.safety import AgeBand
from reports.cards_svg import printed
from reports.drawing_svg import fitted
from reports.footnotes import footnoted
from reports.footprint import CHECK_IN_MM, CHECK_MM, MARGIN_MM, PAPERS, Footprint, lay_out
from tablets.selectors import WayIn

LEVELS = ("young", "older")


@dataclass(frozen=True)
class SheetTeam:
    """A team as its sheet names it."""

    name: str
    colour: str
    level: str = ""


@dataclass(frozen=True)
class Printed:
    """What is printed about: terms, teams, where and when, paper, reading level, units.

    ``where`` is the class and day of a run; empty for a recipe. ``way_in`` is how tablets come into its lesson, while
    they are let in; ``card_set`` the set of scale cards.
    """

    terms: Terms
    teams: tuple[SheetTeam, ...]
    where: str
    paper: str
    level: str
    system: System
    way_in: WayIn | None = None
    card_set: int = 1

    def shown(self) -> ShownPlan:
        return shown_terms(self.terms, len(self.teams), self.system)


Context = dict[str, Any]


def context(about: Printed) -> Context:
    """What every sheet needs."""
    family, shown = about.terms.core_family(), about.shown()
    return {
        "title": about.terms.name,
        "question": about.terms.question or family.question,
        "where": about.where,
        "family": family,
        "saying": shown.saying,
        "paper": about.paper,
        "young": about.level == "young",
        "teams": about.teams,
        "brief": shown.brief,
        "cautions": shown.follows.safety.cautions if shown.follows.safety else (),
        "check_mm": CHECK_MM,
        "way_in": about.way_in,
        "way_in_code": for_paper(about.way_in.address) if about.way_in else "",
        "_shown": shown,
        "_about": about,
    }


def _brief(page: Context) -> Context:
    return {"drawing": fitted(page["_shown"].drawing, 180, 92, page["_about"].system)}


def _plan(page: Context) -> Context:
    shown: ShownPlan = page["_shown"]
    family: Family = page["family"]
    return {
        "lessons": _strips(shown),
        "timeline": shown.follows.timeline,
        "notes": shown.follows.notes,
        "standards": shown.standards,
        "factor": shown.plan.factor,
        "levels": _with_levels(page),
        "controls": page["_about"].terms.controls,
        "metrics": family.metrics,
        "ages": AgeBand(page["_about"].terms.age_band).value.replace("-", " to "),
    }


def _with_levels(page: Context) -> list[tuple[SheetTeam, str]]:
    """Each team with its level of the factor: what it was given in the run, or what the plan deals out."""
    given = [team.level for team in page["teams"]]
    dealt = page["_shown"].follows.assignment
    levels = given if any(given) or dealt is None else dealt.levels
    return list(zip(page["teams"], levels, strict=True))


def _strips(shown: ShownPlan) -> list[list[dict[str, Any]]]:
    """The lessons as strips: each segment with where it begins and how long it is, as shares of the lesson."""
    timeline = shown.follows.timeline
    if timeline is None:
        return []
    longest = max(timeline.minutes, *(segment.end_min for strip in timeline.lessons for segment in strip))
    return [
        [
            {
                "key": segment.key,
                "label": segment.label,
                "note": segment.note,
                "left": f"{100 * segment.start_min / longest:.2f}",
                "width": f"{100 * (segment.end_min - segment.start_min) / longest:.2f}",
                "times": f"{segment.start_min:.0f}–{segment.end_min:.0f} min",
            }
            for segment in strip
        ]
        for strip in timeline.lessons
    ]


def _kit_list(page: Context) -> Context:
    shown: ShownPlan = page["_shown"]
    items = [
        {
            "name": item.name,
            "count": item.count,
            "each": format_mass(item.mass.value, page["_about"].system),
            "together": format_mass(item.mass.value * item.count, page["_about"].system),
        }
        for item in (shown.plan.kit.items if shown.plan.kit else ())
    ]
    return {
        "lines": shown.follows.lines, "items": items, "cover": shown.follows.cover, "benches": shown.plan.benches,
        "footnotes": footnoted((("Needed", NEEDED), ("To buy", PACKS), ("The strongest would outlast it", CHANCE))),
    }  # fmt: skip


def _team_sheets(page: Context) -> Context:
    family: Family = page["family"]
    kit = page["_shown"].plan.kit
    singles = [item for item in kit.items if item.key != "platform" and item.roll_of == 1] if kit else []
    return {
        "drawing": fitted(page["_shown"].drawing, 176, 60, page["_about"].system),
        "counted": singles[0].name if singles and not singles[0].order else "pieces",
        "boxes": range(60),
        "steps": range(9),
        "readings": family.readings,
        "modes": family.failure_modes,
        "sheets": _with_levels(page),
        "factor": page["_shown"].plan.factor,
        "loaded": family.loaded,
    }  # fmt: skip


def _footprint(page: Context) -> Context:
    about: Printed = page["_about"]
    drawing = page["family"].footprint(about.terms.setup)
    laid: Footprint = lay_out(drawing, about.paper, about.system)
    return {"laid": laid, "says": drawing.says, "check_in_mm": CHECK_IN_MM}


def _load_labels(page: Context) -> Context:
    kit = page["_shown"].plan.kit
    labels = []
    for item in kit.items if kit else ():
        mass = format_mass(item.mass.value, page["_about"].system)
        kind = "numbered" if item.order else "carries" if item.key == "platform" else "alike"
        name = item.name.rsplit(" ", 1)[0] if item.order else item.name
        labels.append({"number": item.order or "", "name": name, "mass": mass, "count": item.count, "kind": kind})
    return {"rows": [labels[i : i + 3] for i in range(0, len(labels), 3)]}


def _scale_cards(page: Context) -> Context:
    number = page["_about"].card_set
    sheets, strips = printed(number)
    # In the middle of the sheet, whichever paper it is.
    room_mm = PAPERS[page["_about"].paper][1] - 2 * MARGIN_MM - sheets[0].height_mm
    return {"number": number, "sheets": sheets, "strips": strips, "top_mm": f"{max(0.0, room_mm / 2 - 1):.1f}"}


def _results(page: Context) -> Context:
    return {
        "factor": page["_shown"].plan.factor,
        "rows": _with_levels(page),
        "loaded": page["family"].loaded,
    }


DOCUMENTS: Mapping[str, Callable[[Context], Context]] = {
    "plan": _plan,
    "brief": _brief,
    "kit-list": _kit_list,
    "team-sheets": _team_sheets,
    "footprint": _footprint,
    "load-labels": _load_labels,
    "scale-cards": _scale_cards,
    "results": _results,
}
"""Every document and what it needs besides the common context."""

PACK = tuple(DOCUMENTS)
"""The order in which the whole pack is bound."""


def has_document(key: str, terms: Terms) -> bool:
    """Whether a document makes sense for these terms: nothing is loaded, no load labels."""
    return key != "load-labels" or family_of(terms.family).loaded
