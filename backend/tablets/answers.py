"""What goes out to a team's tablet, kept from one question to the next. Nothing here writes.

Thirty tablets ask every few seconds, and mostly nothing has changed. What a page shows follows from the run's cards,
whose versions ``live.kept`` knows, and from a few rows more, whose versions one query asks for. While all are what they
were, the page is what it was, but for what goes on by itself: the build clock, and the wait of the team's own test.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from typing import Any

from django.utils import timezone

from evengirder.database import prepared_cursor
from girder_core.measure import read_in
from live.kept import versions_of
from live.selectors import hold_left_s
from people.serializers import FOR_ALL
from runs.serializers import BuildClockStateSerializer
from tablets.models import Tablet
from tablets.selectors import TeamPage
from tablets.serializers import TeamPageSerializer

MOST = 256
"""Pages that are kept in a process; with more, all are forgotten."""
# Of the team in the run: what its ledgers hold, what it measured, answered, photographed and typed too late. Of the
# lesson: what teams may do, and who is at which tablet.
_OF_PAGE = """
    WITH own AS (SELECT id FROM designs_design WHERE run_id = %s AND team_id = %s)
    SELECT
        (SELECT string_agg(concat_ws('/', ledger.trial_id, ledger.events, ledger.latest), ',' ORDER BY ledger.trial_id)
            FROM (SELECT event.trial_id, count(*) AS events, max(event.received_at) AS latest
                FROM bench_ledgerevent event JOIN bench_trial trial ON trial.id = event.trial_id
                WHERE trial.design_id IN (SELECT id FROM own) GROUP BY event.trial_id) AS ledger),
        (SELECT concat_ws('/', count(*), max(id)) FROM designs_teamreading WHERE design_id IN (SELECT id FROM own)),
        (SELECT concat_ws('/', count(*), max(id)) FROM tablets_lateprediction WHERE design_id IN (SELECT id FROM own)),
        (SELECT string_agg(concat_ws('/', id, xmin, ctid), ',' ORDER BY id)
            FROM results_reflection WHERE design_id IN (SELECT id FROM own)),
        (SELECT string_agg(concat_ws('/', id, xmin, ctid), ',' ORDER BY id)
            FROM designs_photo WHERE design_id IN (SELECT id FROM own)),
        (SELECT concat_ws('/', id, xmin, ctid) FROM tablets_teamsmay WHERE run_id = %s),
        (SELECT string_agg(concat_ws('/', id, team_id, who), ',' ORDER BY id)
            FROM tablets_tablet WHERE door_id = %s AND team_id = %s)
"""


@dataclass(frozen=True)
class _Kept:
    """A page as it went out, by which versions it is known, and what it was put together from."""

    versions: tuple[object, ...]
    shown: dict[str, Any]
    page: TeamPage


_PAGES: dict[int, _Kept] = {}


def page_answer(tablet: Tablet) -> dict[str, Any]:
    """What a tablet shows now, in the units of the run's teacher."""
    # Asked before anything is read: what changes meanwhile is read again at the next question.
    versions = _versions(tablet)
    kept = _PAGES.get(tablet.pk)
    if kept is not None and kept.versions == versions:
        return {**kept.shown, **_by_now(kept)}
    with read_in(tablet.door.run.system):
        page = TeamPage(tablet)
        shown: dict[str, Any] = _shape().to_representation(page)
    if versions is not None:
        if len(_PAGES) >= MOST:
            _PAGES.clear()
        _PAGES[tablet.pk] = _Kept(versions, shown, page)
    return shown


def _versions(tablet: Tablet) -> tuple[object, ...] | None:
    """None for a page that is not kept: one that chooses its team looks at what all others choose."""
    run, team = tablet.door.run, tablet.team_id
    of_cards = versions_of(run) if team is not None else None
    if of_cards is None:
        return None
    with prepared_cursor() as cursor:
        cursor.execute(_OF_PAGE, [run.pk, team, run.pk, tablet.door_id, team])
        return *of_cards, team, *cursor.fetchone()


def _by_now(kept: _Kept) -> dict[str, Any]:
    """What of a kept page goes on by itself."""
    clock = BuildClockStateSerializer(kept.page.run.build_clock(timezone.now())).data
    live = kept.shown["live"]
    if live is not None:
        live = {**live, "hold_left_s": hold_left_s(kept.page.open_trials[-1].result, live["hold_s"])}
    return {"clock": clock, "live": live}


@cache
def _shape() -> TeamPageSerializer:
    # Built once: to build a shape takes longer than to fill it.
    return TeamPageSerializer(context={FOR_ALL: True})
