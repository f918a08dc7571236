"""Improvements as the API answers with them."""

import math
from collections import defaultdict
from collections.abc import Sequence
from typing import Any

from fluctus.accounts.queries import name_of
from fluctus.core.analysis import constants
from fluctus.core.judgment import ImprovementState
from fluctus.core.words import STATE_NAMES, NumberStyle, say_too_few, say_worth
from fluctus.improvements import models, shapes
from fluctus.improvements.models import Wanted
from fluctus.improvements.outcomes import found_on, how_soon
from fluctus.improvements.queries import STATE_ORDER, acts_of, aims_of, at_the_same_time
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.chart.answers.kpi import numbers_answer
from fluctus.kpis.models import Kpi

NOTHING_DRAWN: dict[str, list[Any]] = {
    name: [] for name in ("before", "since", "periods", "course", "band")
}


def improvement_answers(
    rows: Sequence[models.Improvement], every: Sequence[models.Aim] | None = None
) -> list[shapes.Improvement]:
    """Return improvements with what came of them, those that ask for something first."""
    aims = aims_of(rows)
    all_aims = [aim for of_one in aims.values() for aim in of_one]
    named = at_the_same_time(all_aims, all_aims if every is None else every)
    answers = [
        shapes.Improvement(**_parts(row, [_aim(aim, named[aim.pk]) for aim in aims[row.pk]]))
        for row in rows
    ]
    return sorted(answers, key=_weight)


def _weight(answer: shapes.Improvement) -> int:
    return min((STATE_ORDER.index(aim.state) for aim in answer.aims), default=len(STATE_ORDER))


def detail_answer(row: models.Improvement, every: Sequence[models.Aim]) -> shapes.ImprovementDetail:
    """Return one improvement with its history."""
    aims = aims_of([row])[row.pk]
    named = at_the_same_time(aims, every)
    acts = [
        shapes.ImprovementAct(act.at.isoformat(), name_of(act.author), act.text)
        for act in acts_of(row)[:100]
    ]
    parts = _parts(row, [_aim(aim, named[aim.pk]) for aim in aims])
    return shapes.ImprovementDetail(**parts, acts=acts)


def _parts(row: models.Improvement, aims: list[shapes.Aim]) -> dict[str, Any]:
    return {
        "id": row.pk,
        "name": row.name,
        "text": row.text,
        "owner": row.owner.username if row.owner else None,
        "owner_name": name_of(row.owner),
        "began": row.began.isoformat(),
        "made_of": _made_of(row, aims),
        "aims": aims,
        "version": row.version,
        "removed": row.removed_at is not None,
    }


def _made_of(row: models.Improvement, aims: list[shapes.Aim]) -> shapes.MadeOf | None:
    if row.finding is not None:
        kpi = row.finding.kpi
        return shapes.MadeOf(f"the finding {row.finding} of {kpi.name}", kpi.slug, row.finding.pk)
    if row.event is not None:
        return shapes.MadeOf(f"the event {row.event.title}", aims[0].kpi if aims else "", None)
    if row.shift and aims:
        return shapes.MadeOf(f"the shift of {aims[0].kpi_name}", aims[0].kpi, None)
    return None


def _aim(aim: models.Aim, together_with: list[str]) -> shapes.Aim:
    outcome = aim.outcome
    state = ImprovementState(aim.state)
    return shapes.Aim(
        kpi=aim.kpi.slug,
        kpi_name=aim.kpi.name,
        numbers=numbers_answer(NumberStyle(**aim.kpi.digest["numbers"])),
        wanted=Wanted(aim.wanted),
        amount=aim.amount,
        by=None if aim.by is None else aim.by.isoformat(),
        worth=aim.worth,
        worth_unit=aim.worth_unit,
        state=state,
        state_name=STATE_NAMES[state],
        state_since=aim.state_since.isoformat(),
        says=outcome.get("says", ""),
        n=outcome.get("n", 0),
        m=outcome.get("m", 0),
        average=outcome.get("average"),
        lower=outcome.get("lower"),
        upper=outcome.get("upper"),
        brought=outcome.get("brought", 0.0),
        band=outcome.get("band", 0.0),
        moved=outcome.get("moved"),
        proposes=outcome.get("proposes"),
        drawn=shapes.DrawnOutcome(**outcome.get("drawn", NOTHING_DRAWN)),
        together_with=together_with,
    )


def totals_of(improvements: Sequence[shapes.Improvement]) -> list[shapes.Total]:
    """Add up what improvements brought where units are worth the same.

    What two brought together is counted once, by the first of them. The bands are of sums that do
    not depend on each other: their squares add up.
    """
    by_unit: dict[str, list[tuple[float, float]]] = defaultdict(list)
    counted_kpis: set[str] = set()
    for improvement in sorted(improvements, key=lambda row: row.began):
        for aim in improvement.aims:
            if not aim.worth or not aim.m:
                continue
            if aim.together_with and aim.kpi in counted_kpis:
                continue
            counted_kpis.add(aim.kpi)
            by_unit[aim.worth_unit].append((aim.brought * aim.worth, aim.band * aim.worth))
    totals = []
    for unit, sums in by_unit.items():
        brought = sum(each for each, _ in sums)
        band = math.sqrt(sum(each**2 for _, each in sums))
        says = say_worth(brought, band, unit)
        totals.append(shapes.Total(unit, brought, band, len(sums), says))
    return totals


def expected_answer(kpi: Kpi, chart: Chart, asked: dict[str, Any]) -> shapes.Expected:
    """Say what an improvement would be held against, and how soon one would know."""
    wanted, began = Wanted(str(asked["wanted"])), asked["began"]
    found, _ = found_on(chart, began, wanted, None)
    if found.n < constants.MIN_VALUES_FOR_LIMITS:
        problem = say_too_few(found.n, f"of {kpi.name} before that day")
        return shapes.Expected("", "", f"{problem} Until then nothing can be told.")
    numbers = chart.words.numbers
    baseline = (
        f"{numbers.level_amount(found.average)} on average over "
        f"{chart.words.periods(found.n)} before it."
    )
    amount = asked.get("amount")
    soon = (
        how_soon(chart, wanted, float(amount)) if isinstance(amount, float) and amount > 0 else ""
    )
    return shapes.Expected(baseline, soon, "")
