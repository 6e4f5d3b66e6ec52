"""From trials to a fair comparison, its reasons, and what came of a new version.

The map of the room, and its only door: what others use is imported from here.

    scoring     trials of a design to one score, under a school of scoring and a trial rule
    comparison  scores of a run to rank ranges, verdicts and a headline
    samples     two samples against each other: rank tests, fits, survival
    factors     what the designs that did well have in common
    fairness    what was not like with like
    gains       what a new version gained
    history     how the ranking stood after each trial
    rubric      marks by levels that the teacher chose
"""

from girder_core.results import scoring
from girder_core.results.comparison import Comparison, Entry, Place, VerdictKind, compare, failures, pooled_cv
from girder_core.results.factors import (
    FactorEffect,
    Foresight,
    ForesightOfAll,
    Level,
    Mark,
    Member,
    Tally,
    Trend,
    differs,
    factor_effect,
    foresee,
    foresight_of_all,
    tally,
    trend,
)
from girder_core.results.fairness import (
    Circumstances,
    circumstantial,
    like_with_like,
    own_weight_note,
    retests,
    usual_way,
)
from girder_core.results.gains import ClassGain, Gain, changes_in, class_gain, class_gain_of, gain
from girder_core.results.history import Outlook, PastRun, outlook, past_run
from girder_core.results.rubric import (
    PROPOSED,
    SOURCE_WORDS,
    Attempt,
    Criterion,
    Source,
    evidence_of,
    level_from,
    points,
    rubric_of,
)
from girder_core.results.samples import LoadFit, SampleMean, Survival, fit_in_words, fit_loads, mean_of, survival
from girder_core.results.scoring import (
    BREACH_WORDS,
    NOTHING_MEASURED,
    SCHOOL_WORDS,
    TIE_WORDS,
    TRIAL_RULE_WORDS,
    BestLoad,
    BreachPolicy,
    Candidate,
    Facts,
    Rules,
    School,
    Score,
    TieRule,
    TrialRule,
    Words,
    amount,
    best_load,
    needs_trial,
    score,
    score_all,
)

__all__ = [
    "BREACH_WORDS",
    "NOTHING_MEASURED",
    "PROPOSED",
    "SCHOOL_WORDS",
    "SOURCE_WORDS",
    "TIE_WORDS",
    "TRIAL_RULE_WORDS",
    "Attempt",
    "BestLoad",
    "BreachPolicy",
    "Candidate",
    "Circumstances",
    "ClassGain",
    "Comparison",
    "Criterion",
    "Entry",
    "FactorEffect",
    "Facts",
    "Foresight",
    "ForesightOfAll",
    "Gain",
    "Level",
    "LoadFit",
    "Mark",
    "Member",
    "Outlook",
    "PastRun",
    "Place",
    "Rules",
    "SampleMean",
    "School",
    "Score",
    "Source",
    "Survival",
    "Tally",
    "TieRule",
    "Trend",
    "TrialRule",
    "VerdictKind",
    "Words",
    "amount",
    "best_load",
    "changes_in",
    "circumstantial",
    "class_gain",
    "class_gain_of",
    "compare",
    "differs",
    "evidence_of",
    "factor_effect",
    "failures",
    "fit_in_words",
    "fit_loads",
    "foresee",
    "foresight_of_all",
    "gain",
    "level_from",
    "like_with_like",
    "mean_of",
    "needs_trial",
    "outlook",
    "own_weight_note",
    "past_run",
    "points",
    "pooled_cv",
    "retests",
    "rubric_of",
    "score",
    "score_all",
    "scoring",
    "survival",
    "tally",
    "trend",
    "usual_way",
]
