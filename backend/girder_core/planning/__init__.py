"""A lesson before it begins.

The map of the room, and its only door: what others use is imported from here.

    proposal    four answers to a whole lesson, and the consequences of every edit
    schedule    a lesson against the clock
    brief       a challenge in a few lines
    origins     how the figures of a plan came about
    experiment  what is varied on purpose and what is kept the same
    grouping    teams from a class list
    roles       who does what at a team's test
"""

from girder_core.planning.brief import BriefLine, brief_lines, goal_in_words
from girder_core.planning.experiment import Factor, assign_levels, tidy_controls
from girder_core.planning.grouping import MOST_STUDENTS, dealt, first_names, team_sizes
from girder_core.planning.origins import plan_origins
from girder_core.planning.proposal import DIAL, Answers, Consequences, Plan, Proposal, consequences, propose
from girder_core.planning.roles import Task, at_a_tablet, tasks
from girder_core.planning.schedule import (
    BenchFit,
    BuildClock,
    ClockAct,
    Turn,
    bench_fit,
    drying_left_s,
    fair_order,
    turned,
)

__all__ = [
    "DIAL",
    "MOST_STUDENTS",
    "Answers",
    "BenchFit",
    "BriefLine",
    "BuildClock",
    "ClockAct",
    "Consequences",
    "Factor",
    "Plan",
    "Proposal",
    "Task",
    "Turn",
    "assign_levels",
    "at_a_tablet",
    "bench_fit",
    "brief_lines",
    "consequences",
    "dealt",
    "drying_left_s",
    "fair_order",
    "first_names",
    "goal_in_words",
    "plan_origins",
    "propose",
    "tasks",
    "team_sizes",
    "tidy_controls",
    "turned",
]
