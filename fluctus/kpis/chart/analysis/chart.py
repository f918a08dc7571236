"""The chart of a KPI: its observations and settings, analysed."""

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from functools import cache, cached_property
from typing import Any

import numpy as np

from fluctus.core import (
    Analysis,
    Direction,
    Rule,
    Season,
    Series,
    Settings,
    UnfitPatternError,
    analyse,
    analyse_many,
)
from fluctus.core.arrays import Bools, Ints
from fluctus.core.context import between
from fluctus.core.judgment import (
    Doubt,
    Happenings,
    Verdict,
    doubts_of,
    happenings_of,
    nature_of,
    verdict_of,
)
from fluctus.core.shaping import small_denominators
from fluctus.core.words import Sentence, Words
from fluctus.http.metrics import ANALYSIS_SECONDS
from fluctus.http.refusals import Issue, RefusalError
from fluctus.http.spans import tracer
from fluctus.kpis.chart.analysis.numbers import numbers_of
from fluctus.kpis.chart.analysis.positions import (
    CANNOT_DRAW,
    core_settings,
    read_period,
    seasons_at,
)
from fluctus.kpis.chart.analysis.regrain import carry_over
from fluctus.kpis.chart.analysis.targets import with_target_steps
from fluctus.kpis.models import Raises
from fluctus.kpis.observations.series import Observations
from fluctus.kpis.seasons import BOTH, PLACE_NAMES, SEASONS, Follows
from fluctus.kpis.state import ChartState

TOO_FEW_FOR_PATTERNS = "At this grain there are too few values for limits that follow a pattern."


WORKED_OUT = ("verdict", "swinging")
"""What of a chart is worked out when it is asked for."""


@dataclass(frozen=True)
class Chart:
    """A chart with everything that it is made from."""

    observations: Observations
    state: ChartState
    analysis: Analysis
    words: Words
    doubts: tuple[Doubt, ...]
    """Why the values may be unfit for a chart."""
    missing_before: Ints
    """How many periods are missing before each value, shape (n,)."""
    happenings: Happenings
    said: dict[tuple[int | None, int | None, bool], Sentence] = field(default_factory=dict)
    """Sentences that were said of it, by what the log has: a long chart is read many times."""
    thinned: dict[tuple[int, int, int], Ints] = field(default_factory=dict)
    """Which of its values are drawn, by the stretch and the columns: nothing of that is named."""

    @cached_property
    def verdict(self) -> Verdict:
        """What is to be made of it, worked out where it is asked for."""
        data = self.observations
        kinds = SEASONS[data.grain] if self.state.segments[-1].follows == Follows.LEVEL else ()

        @cache
        def seasons(first: int) -> dict[str, Season]:
            found = seasons_at(data, kinds, first)
            return {kind.value: season for kind, season in found.items()}

        return verdict_of(
            self.analysis,
            seasons,
            BOTH,
            self.words.settled,
            positions_of(data, self.state.confirmed, "confirmed"),
        )

    def looking(self, state: ChartState) -> "Chart":
        """Return this chart under ``state``, which differs in how it is called and drawn alone."""
        words = replace(self.words, name=state.name)
        renamed = replace(self, state=state, words=words, said={})
        # What has been worked out rests on none of that.
        vars(renamed).update({name: vars(self)[name] for name in WORKED_OUT if name in vars(self)})
        return renamed

    @cached_property
    def swinging(self) -> Bools:
        """Which values are ratios by so small a denominator that they swing more, shape (n,)."""
        below, segments = self.observations.denominators, self.analysis.segments
        window = np.zeros(len(self.observations), np.bool_)
        window[self.analysis.included_in(len(segments) - 1)] = True
        small = None if below is None else small_denominators(below, window)
        return np.zeros(len(window), np.bool_) if small is None else small

    @property
    def raising(self) -> frozenset[Rule]:
        """The rules whose signals become findings."""
        rules = self.analysis.settings.rules
        only = frozenset({Rule.OUTSIDE_LIMITS})
        chosen = {
            Raises.EVERYTHING: rules,
            Raises.BEYOND_LIMITS: rules & only,
            Raises.NOTHING: frozenset[Rule](),
        }
        return chosen[Raises(self.state.raises)]

    @property
    def target_met(self) -> Bools | None:
        """Which values meet their own target, shape (n,); None where nothing is judged."""
        data, direction = self.observations, self.analysis.settings.direction
        if data.targets is None:
            target = self.words.wanted(direction)
            return None if target is None else target.met_by(data.values)
        high = np.full(len(data), np.nan) if data.targets_high is None else data.targets_high
        is_range = ~np.isnan(high)
        if direction is Direction.NEITHER and not is_range.any():
            return None
        low = np.where(is_range | (direction is Direction.HIGHER), data.targets, -np.inf)
        top = np.where(is_range, high, data.targets if direction is Direction.LOWER else np.inf)
        judged = is_range | (direction is not Direction.NEITHER)
        # Where there is no target, there is none to miss.
        return between(data.values, low, top) | ~judged

    @property
    def is_whole(self) -> bool:
        """Whether it shows all breakdowns at the grain that is stored, where acts are done."""
        data = self.observations
        return data.grain is data.stored and not data.part


def make_chart(observations: Observations, state: ChartState) -> Chart:
    """Analyse ``observations`` under ``state``; raises RefusalError where it cannot be.

    At a coarser grain than the stored one, segments begin with the first whole
    period after their shift.
    """
    with ANALYSIS_SECONDS.time(), tracer.start_as_current_span("analysis") as span:
        span.set_attribute("fluctus.values", len(observations))
        return _make_chart(observations, state)


def _make_chart(observations: Observations, state: ChartState) -> Chart:
    prepared = _Prepared.of(observations, state)
    try:
        return prepared.chart(analyse(prepared.series, prepared.settings))
    except UnfitPatternError as error:
        if not prepared.carried:
            raise _unfit(error) from None
        # What the stored values carry, fewer and longer periods need not.
        prepared = prepared.level()
        return prepared.chart(analyse(prepared.series, prepared.settings))


def make_charts(each: Sequence[tuple[Observations, ChartState]]) -> list[Chart]:
    """Analyse many as ``make_chart`` does each, those that are judged by the same rules in one."""
    prepared = [_Prepared.of(observations, state) for observations, state in each]
    alike: dict[Any, list[int]] = {}
    for number, one in enumerate(prepared):
        alike.setdefault((one.settings.rules, one.settings.run_length), []).append(number)
    charts: dict[int, Chart] = {}
    for numbers in alike.values():
        together = [prepared[number] for number in numbers]
        try:
            analyses = analyse_many([p.series for p in together], [p.settings for p in together])
        except UnfitPatternError:
            # That one of them has no limits is no reason for the others to have none.
            charts |= {number: make_chart(*each[number]) for number in numbers}
        else:
            made = zip(numbers, together, analyses, strict=True)
            charts |= {number: one.chart(analysis) for number, one, analysis in made}
    return [charts[number] for number in range(len(each))]


@dataclass(frozen=True, slots=True)
class _Prepared:
    """What is analysed of a chart, and by which settings."""

    observations: Observations
    state: ChartState
    series: Series
    settings: Settings
    carried: bool
    """Whether its segments were set for other periods, or for the whole."""

    @classmethod
    def of(cls, observations: Observations, state: ChartState) -> "_Prepared":
        observations = with_target_steps(observations, state)
        carried = observations.grain is not observations.stored or bool(observations.part)
        if carried:
            observations, state = carry_over(observations, state)
        if observations.summed:
            state = replace(state, ceiling=None)
        series = Series(observations.values, observations.no_part)
        settings = core_settings(observations, state)
        if nature_of(series) is not None:
            # Of values that limits say little of, nothing is found until they are charted
            # otherwise.
            settings = replace(settings, rules=frozenset())
        return cls(observations, state, series, settings, carried)

    def level(self) -> "_Prepared":
        """Return the same with limits that follow nothing."""
        segments = [replace(one, follows=Follows.LEVEL.value) for one in self.state.segments]
        state = replace(self.state, segments=tuple(segments))
        remarks = (*self.observations.remarks, TOO_FEW_FOR_PATTERNS)
        observations = replace(self.observations, remarks=remarks)
        settings = replace(core_settings(observations, state), rules=self.settings.rules)
        return _Prepared(observations, state, self.series, settings, self.carried)

    def chart(self, analysis: Analysis) -> Chart:
        """Return the chart with its analysis."""
        observations, state = self.observations, self.state
        target, target_high = target_now(observations, state)
        words = Words(
            name=f"{state.name}, {observations.part}" if observations.part else state.name,
            numbers=numbers_of(observations, state),
            grain="interval" if observations.irregular else observations.grain.value,
            label=observations.label,
            segments=tuple(segment.name for segment in state.segments),
            target=target,
            target_high=target_high,
            **_season_words(observations, state),
            ahead=observations.ahead,
            settled=positions_of(
                observations, [kept.period for kept in state.kept_limits], "kept_limits"
            ),
        )
        missing_before = observations.missing_before
        doubts = doubts_of(
            analysis,
            missing_periods=int(missing_before.sum()),
            breakdowns=observations.breakdowns,
        )
        return Chart(
            observations,
            state,
            analysis,
            words,
            tuple(doubts),
            missing_before,
            happenings_of(analysis),
        )


def _unfit(error: UnfitPatternError) -> RefusalError:
    return RefusalError(
        CANNOT_DRAW,
        Issue(
            str(error),
            "Let the limits of this segment follow nothing, or another pattern.",
            f"segments.{error.segment}.follows",
        ),
    )


def _season_words(observations: Observations, state: ChartState) -> dict[str, Any]:
    """Return what the places of the season are called that the last segment follows."""
    follows = Follows(state.segments[-1].follows)
    if follows not in PLACE_NAMES:
        return {}
    preposition = "on" if follows is Follows.WEEKDAY else "in"
    return {"places": tuple(PLACE_NAMES[follows]), "places_preposition": preposition}


def positions_of(observations: Observations, texts: Sequence[str], field: str) -> frozenset[int]:
    """Return where some stored periods are, as far as there are values; refuses what is none."""
    periods = (read_period(observations, text, field, observations.stored) for text in texts)
    positions = (observations.position_of(period) for period in periods)
    return frozenset(position for position in positions if position is not None)


def target_now(observations: Observations, state: ChartState) -> tuple[float | None, float | None]:
    """Return the target in force and its high side, where it is a range.

    That is the newest of those that came with the values, or the KPI's.
    """
    if observations.targets is not None:
        newest = np.flatnonzero(~np.isnan(observations.targets))[-1]
        highs = observations.targets_high
        high = None if highs is None or np.isnan(highs[newest]) else float(highs[newest])
        return float(observations.targets[newest]), high
    return (None, None) if observations.summed else (state.target, state.target_high)
