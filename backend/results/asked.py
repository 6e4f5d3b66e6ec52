"""By which rules a comparison is asked for: the run's own, or others to look at it otherwise."""

from __future__ import annotations

from dataclasses import replace

from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter
from rest_framework.request import Request

from challenges.models import SCHOOLS, TRIAL_RULES, Run
from girder_core.ground import GirderError
from girder_core.results import Rules, School, TrialRule

ASKED = [
    OpenApiParameter("school", OpenApiTypes.STR, enum=[key for key, _ in SCHOOLS]),
    OpenApiParameter("trial_rule", OpenApiTypes.STR, enum=[key for key, _ in TRIAL_RULES]),
]


def asked_rules(run: Run, request: Request) -> tuple[Rules, bool]:
    """The run's rules, or those asked for in the address to look at it otherwise; and whether they are its own."""
    school = request.query_params.get("school", run.school)
    trial_rule = request.query_params.get("trial_rule", run.trial_rule)
    if school not in dict(SCHOOLS) or trial_rule not in dict(TRIAL_RULES):
        raise GirderError("unknown_school", "There is no such way of scoring.")
    own = run.rules()
    rules = replace(own, school=School(school), trial_rule=TrialRule(trial_rule))
    return rules, rules == own
