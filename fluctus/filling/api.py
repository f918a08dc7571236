"""Values that are due over HTTP."""

from zoneinfo import ZoneInfo

from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fluctus.accounts.queries import named, workspace_of
from fluctus.core import Aggregation
from fluctus.core.words import NumberStyle
from fluctus.filling import requests, shapes
from fluctus.filling.due import DueKpi, due_in
from fluctus.filling.judging import UNKNOWN, check_value, expectation
from fluctus.filling.services import Row, fill_in, give_to
from fluctus.http import clock
from fluctus.http.problems import PROBLEMS
from fluctus.http.refusals import RefusalError
from fluctus.http.requests import checked, person_of
from fluctus.http.shapes import schema_of, schema_of_list
from fluctus.http.snapshots import one_snapshot
from fluctus.kpis.actor import actor_of
from fluctus.kpis.calendar import Grain, label, to_text
from fluctus.kpis.models import Kpi
from fluctus.kpis.values.fractions import fraction_of
from fluctus.kpis.values.services import Edit


class FillInView(APIView):
    """What is due and typed by hand."""

    @extend_schema(
        operation_id="due_values",
        parameters=[requests.DueQuerySerializer],
        responses={200: schema_of(shapes.Due), **PROBLEMS},
    )
    @one_snapshot()
    def get(self, request: Request, workspace: str) -> Response:
        """Return a stretch of it, by group and name."""
        query = requests.DueQuerySerializer.of(request)
        start, most = query["start"], query["most"]
        row = workspace_of(person_of(request), workspace)
        due = due_in(row, clock.now(), start, most)
        return Response(
            shapes.Due(
                count=due.count,
                start=start,
                kpis=len(due.stretch),
                values=[value for each in due.stretch for value in _values_of(each)],
                resting=[_resting(each) for each in due.resting],
            )
        )

    @extend_schema(
        operation_id="fill_in",
        request=requests.FillInSerializer,
        responses={200: schema_of(shapes.FilledIn), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str) -> Response:
        """Save typed values, all or none; what is there already is no conflict."""
        form = checked(requests.FillInSerializer, request.data)
        row = workspace_of(person_of(request), workspace)
        done = fill_in(row, [_row(each) for each in form["rows"]], actor_of(request))
        saved = 0 if done is None else done.rows
        return Response(shapes.FilledIn(None if done is None else done.pk, saved))


class JudgeView(APIView):
    """Values that somebody is typing."""

    @extend_schema(
        operation_id="judge_values",
        request=requests.JudgeSerializer,
        responses={200: schema_of_list(shapes.ValueCheck), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str) -> Response:
        """Say of each how it stands to the limits of its KPI."""
        rows = checked(requests.JudgeSerializer, request.data)["rows"]
        home = workspace_of(person_of(request), workspace)
        found = Kpi.objects.filter(workspace=home, slug__in={row["kpi"] for row in rows})
        kpis = {kpi.slug: kpi for kpi in found}
        return Response([_checked(kpis.get(row["kpi"]), row) for row in rows])


class FilledByView(APIView):
    """Who sees to the values of KPIs."""

    @extend_schema(
        operation_id="fill_by",
        request=requests.FilledBySerializer,
        responses={204: None, **PROBLEMS},
    )
    def post(self, request: Request, workspace: str) -> Response:
        """Make a member responsible, or nobody."""
        form = checked(requests.FilledBySerializer, request.data)
        give_to(workspace_of(person_of(request), workspace), form["kpis"], form["username"])
        return Response(status=204)


def _row(form: dict[str, object]) -> Row:
    row = dict(form)
    kpi, cause, over = str(row.pop("kpi")), str(row.pop("cause")), bool(row.pop("over"))
    return Row(kpi, Edit(**row), cause, over)  # type: ignore[arg-type]


def _checked(kpi: Kpi | None, row: dict[str, float | None]) -> shapes.ValueCheck:
    value = None if kpi is None else _typed(kpi, row)
    return UNKNOWN if kpi is None or value is None else check_value(kpi, value)


def _typed(kpi: Kpi, row: dict[str, float | None]) -> float | None:
    try:
        fraction = fraction_of(kpi, row["numerator"], row["denominator"], "")
    except RefusalError:
        # Half typed, or what saving refuses with its reason.
        return None
    return row["value"] if fraction is None else fraction["value"]


def _values_of(each: DueKpi) -> list[shapes.DueValue]:
    kpi, grain, zone = each.kpi, Grain(each.kpi.grain), ZoneInfo(each.kpi.time_zone)
    numbers = NumberStyle(**kpi.digest["numbers"])
    whole = set(each.latest) == {""}
    expected = expectation(kpi) if whole else ""
    person = kpi.filled_by
    filled_by = None if person is None else named(person)
    return [
        shapes.DueValue(
            kpi=kpi.slug,
            name=kpi.name,
            group=kpi.group,
            unit=kpi.unit,
            aggregation=Aggregation(kpi.aggregation),
            grain=grain,
            period=to_text(period, grain, zone),
            label=label(period, grain, zone, each.newest),
            breakdown=breakdown,
            last=numbers.amount(value),
            last_label=label(each.newest, grain, zone, period),
            expected=expected,
            filled_by=filled_by,
        )
        for period in each.periods
        for breakdown, value in sorted(each.latest.items())
    ]


def _resting(each: DueKpi) -> shapes.Resting:
    kpi = each.kpi
    last = label(each.newest, Grain(kpi.grain), ZoneInfo(kpi.time_zone))
    return shapes.Resting(kpi.slug, kpi.name, last)
