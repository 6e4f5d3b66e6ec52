"""From trials to a fair comparison, its reasons, and what came of a new version.

The map of the room, and its only door: what others use is imported from here.

    rules       what wins, which trials count, what a broken rule does
    scoring     trials of a design to one score, under a school of scoring and a trial rule
    again       how strong designs truly are, from all their trials: the model behind every chance
    prospects   would they win again: chances under every way of scoring, and which next trial tells most
    came_to     what was carried, in words, and beside it what a penalty takes off
    comparison  who won today and would win again: places, verdicts, headlines
    samples     two samples against each other: rank tests, fits, survival
    factors     what the designs that did well have in common
    fairness    what was not like with like
    gains       what a new version gained
    origins     how a score, a place and a chance came about
    history     a challenge over the years
    elsewhere   what it came to in other classes, and what that lets a next one expect
    charting    result charts as shapes, for screen and paper; motion_chart, ranking_charts, reason_charts and
                version_charts lay them out
    rubric      marks by levels that the teacher chose
"""

from girder_core.results import again, scoring
from girder_core.results.again import Scatter, ScatterBelief, belief_from, pooled_cv, strengths
from girder_core.results.came_to import after_penalty, amount, came_to, counts_as
from girder_core.results.charting import INKS, Chart, Drawn, Ink, axis_of, with_doubt
from girder_core.results.comparison import Comparison, Entry, Place, Verdict, VerdictKind, compare, failures
from girder_core.results.elsewhere import (
    FEWEST,
    Elsewhere,
    SharedHistory,
    amounts,
    expected_after,
    expected_in_words,
    history_in_words,
    same_terms,
    shared_history,
    told_elsewhere,
)
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
    Varied,
    circumstantial,
    like_with_like,
    own_weight_note,
    retests,
    usual_arrangement,
    varied_on_purpose,
)
from girder_core.results.gains import ClassGain, Gain, changes_in, class_gain, class_gain_of, gain
from girder_core.results.history import Outlook, PastRun, outlook, past_run, years_in_words
from girder_core.results.motion_chart import Went, motion_chart
from girder_core.results.origins import Parts, footnotes, of_trials_origin, score_origin, standing_origins
from girder_core.results.prospects import (
    Prospect,
    RankRange,
    in_the_score,
    pairs_compared,
    prospects,
    worth_testing,
)
from girder_core.results.ranking_charts import OPEN_VERDICTS, VERDICT_WORDS, places_text, ranking_chart, rays_chart
from girder_core.results.reason_charts import (
    Placed,
    Sized,
    against_chart,
    endings_chart,
    factor_chart,
    foresight_chart,
    repeats_line,
    survival_chart,
)
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
from girder_core.results.rules import (
    BREACH_WORDS,
    SCHOOL_WORDS,
    TIE_WORDS,
    TRIAL_RULE_WORDS,
    BreachPolicy,
    Rules,
    School,
    TieRule,
    TrialRule,
    Words,
    needs_trial,
    possible_schools,
    rule_matters,
)
from girder_core.results.samples import LoadFit, SampleMean, Survival, fit_in_words, fit_loads, mean_of, survival
from girder_core.results.scoring import NOTHING_MEASURED, BestLoad, Candidate, Facts, Score, best_load, score, score_all
from girder_core.results.version_charts import Chain, gain_in_words, versions_chart

__all__ = [
    "BREACH_WORDS",
    "FEWEST",
    "INKS",
    "NOTHING_MEASURED",
    "OPEN_VERDICTS",
    "PROPOSED",
    "SCHOOL_WORDS",
    "SOURCE_WORDS",
    "TIE_WORDS",
    "TRIAL_RULE_WORDS",
    "VERDICT_WORDS",
    "Attempt",
    "BestLoad",
    "BreachPolicy",
    "Candidate",
    "Chain",
    "Chart",
    "Circumstances",
    "ClassGain",
    "Comparison",
    "Criterion",
    "Drawn",
    "Elsewhere",
    "Entry",
    "FactorEffect",
    "Facts",
    "Foresight",
    "ForesightOfAll",
    "Gain",
    "Ink",
    "Level",
    "LoadFit",
    "Mark",
    "Member",
    "Outlook",
    "Parts",
    "PastRun",
    "Place",
    "Placed",
    "Prospect",
    "RankRange",
    "Rules",
    "SampleMean",
    "Scatter",
    "ScatterBelief",
    "School",
    "Score",
    "SharedHistory",
    "Sized",
    "Source",
    "Survival",
    "Tally",
    "TieRule",
    "Trend",
    "TrialRule",
    "Varied",
    "Verdict",
    "VerdictKind",
    "Went",
    "Words",
    "after_penalty",
    "again",
    "against_chart",
    "amount",
    "amounts",
    "axis_of",
    "belief_from",
    "best_load",
    "came_to",
    "changes_in",
    "circumstantial",
    "class_gain",
    "class_gain_of",
    "compare",
    "counts_as",
    "differs",
    "endings_chart",
    "evidence_of",
    "expected_after",
    "expected_in_words",
    "factor_chart",
    "factor_effect",
    "failures",
    "fit_in_words",
    "fit_loads",
    "footnotes",
    "foresee",
    "foresight_chart",
    "foresight_of_all",
    "gain",
    "gain_in_words",
    "history_in_words",
    "in_the_score",
    "level_from",
    "like_with_like",
    "mean_of",
    "motion_chart",
    "needs_trial",
    "of_trials_origin",
    "outlook",
    "own_weight_note",
    "pairs_compared",
    "past_run",
    "places_text",
    "points",
    "pooled_cv",
    "possible_schools",
    "prospects",
    "ranking_chart",
    "rays_chart",
    "repeats_line",
    "retests",
    "rubric_of",
    "rule_matters",
    "same_terms",
    "score",
    "score_all",
    "score_origin",
    "scoring",
    "shared_history",
    "standing_origins",
    "strengths",
    "survival",
    "survival_chart",
    "tally",
    "told_elsewhere",
    "trend",
    "usual_arrangement",
    "varied_on_purpose",
    "versions_chart",
    "with_doubt",
    "worth_testing",
    "years_in_words",
]
