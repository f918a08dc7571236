"""What to think of an analysis: fitness, evidence, shift candidates, false alarms.

What others use of it is named here, and reached from here alone.
"""

from fluctus.core.judgment.candidates import Change, Levels, shift_candidates
from fluctus.core.judgment.chance import findings_by_chance
from fluctus.core.judgment.coincidence import SEED, SHIFTS, Timeline, Together, fell_together
from fluctus.core.judgment.contributions import (
    PartTable,
    WhatMadeIt,
    Whole,
    fraction_parts,
    parts_of_fraction,
    what_made_it,
)
from fluctus.core.judgment.evidence import (
    SeasonEvidence,
    TrendEvidence,
    season_evidence,
    trend_evidence,
)
from fluctus.core.judgment.far_off import far_off
from fluctus.core.judgment.fitness import Doubt, Fitness, doubts_of
from fluctus.core.judgment.happenings import Happening, Happenings, happenings_of
from fluctus.core.judgment.improvement import Improvement, ImprovementState, improvement_on
from fluctus.core.judgment.nature import Nature, nature_of
from fluctus.core.judgment.parts import FEWEST, PartsCompared, compare_parts
from fluctus.core.judgment.placements import Placed, against_placements
from fluctus.core.judgment.reach import target_reach
from fluctus.core.judgment.shift_evidence import evidence_at
from fluctus.core.judgment.shift_review import ReviewAnswer, ReviewQuestion, advise_shift
from fluctus.core.judgment.time_to_signal import POINTS, RUNS, TimeToSignal, false_alarms
from fluctus.core.judgment.verdict import Offered, SeasonsFrom, Verdict, no_seasons, verdict_of

__all__ = [
    "FEWEST",
    "POINTS",
    "RUNS",
    "SEED",
    "SHIFTS",
    "Change",
    "Doubt",
    "Fitness",
    "Happening",
    "Happenings",
    "Improvement",
    "ImprovementState",
    "Levels",
    "Nature",
    "Offered",
    "PartTable",
    "PartsCompared",
    "Placed",
    "ReviewAnswer",
    "ReviewQuestion",
    "SeasonEvidence",
    "SeasonsFrom",
    "TimeToSignal",
    "Timeline",
    "Together",
    "TrendEvidence",
    "Verdict",
    "WhatMadeIt",
    "Whole",
    "advise_shift",
    "against_placements",
    "compare_parts",
    "doubts_of",
    "evidence_at",
    "false_alarms",
    "far_off",
    "fell_together",
    "findings_by_chance",
    "fraction_parts",
    "happenings_of",
    "improvement_on",
    "nature_of",
    "no_seasons",
    "parts_of_fraction",
    "season_evidence",
    "shift_candidates",
    "target_reach",
    "trend_evidence",
    "verdict_of",
    "what_made_it",
]
