"""Sentences and explanations, made of numbers and tested as text.

What others use of it is named here, and reached from here alone.
"""

from fluctus.core.words.advice import advise
from fluctus.core.words.comparison_sentence import compare
from fluctus.core.words.detection import HALF, MOST, say_how_soon, say_reach, say_smallest
from fluctus.core.words.digest import Attention, Tally, in_short, say_tally
from fluctus.core.words.explanation import Explanation, explain
from fluctus.core.words.improvement import (
    STATE_NAMES,
    ImprovementWords,
    say_improvement,
    say_improvements,
    say_too_few,
    say_worth,
)
from fluctus.core.words.lines import TIMES, doubt_level, doubt_name, plain, say_made
from fluctus.core.words.numbers import (
    NBSP,
    POWERS,
    NumberStyle,
    ShownIn,
    percent,
    percent_of_all,
    roughly,
    rounded,
    significant,
    singular,
    style_of,
)
from fluctus.core.words.sentence import Background, Sentence, summarise
from fluctus.core.words.shares import say_halves, say_how_shared, say_what_made_it
from fluctus.core.words.side_by_side import (
    chance_explains,
    say_chance,
    say_equation,
    say_evidence,
    say_pair,
    say_parts,
    say_placed,
)
from fluctus.core.words.steps import BuildUpPart, build_up
from fluctus.core.words.wording import Words, counted, in_a_row

__all__ = [
    "HALF",
    "MOST",
    "NBSP",
    "POWERS",
    "STATE_NAMES",
    "TIMES",
    "Attention",
    "Background",
    "BuildUpPart",
    "Explanation",
    "ImprovementWords",
    "NumberStyle",
    "Sentence",
    "ShownIn",
    "Tally",
    "Words",
    "advise",
    "build_up",
    "chance_explains",
    "compare",
    "counted",
    "doubt_level",
    "doubt_name",
    "explain",
    "in_a_row",
    "in_short",
    "percent",
    "percent_of_all",
    "plain",
    "roughly",
    "rounded",
    "say_chance",
    "say_equation",
    "say_evidence",
    "say_halves",
    "say_how_shared",
    "say_how_soon",
    "say_improvement",
    "say_improvements",
    "say_made",
    "say_pair",
    "say_parts",
    "say_placed",
    "say_reach",
    "say_smallest",
    "say_tally",
    "say_too_few",
    "say_what_made_it",
    "say_worth",
    "significant",
    "singular",
    "style_of",
    "summarise",
]
