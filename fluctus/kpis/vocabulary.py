"""What the screens say of rules, constants and seasons, handed on from where each is known."""

from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fluctus.core import RUN_LENGTHS, Rule
from fluctus.core.analysis import (
    DEFAULT_RUN_LENGTH,
    MIN_VALUES_FOR_FIRM_LIMITS,
    MIN_VALUES_FOR_LIMITS,
    RULES,
)
from fluctus.core.shaping import AGGREGATION_NAMES, Aggregation
from fluctus.http.problems import PROBLEMS
from fluctus.http.requests import LIST_PAGE
from fluctus.http.shapes import schema_of
from fluctus.kpis import vocabulary_shapes as shapes
from fluctus.kpis.calendar import Grain
from fluctus.kpis.seasons import FOLLOWS_NAMES, Follows, can_follow
from fluctus.kpis.values.queries import VALUES_PAGE


class VocabularyView(APIView):
    """What is known in one place, and said on many screens."""

    @extend_schema(
        operation_id="vocabulary", responses={200: schema_of(shapes.Vocabulary), **PROBLEMS}
    )
    def get(self, request: Request) -> Response:
        """Return all of it, which is the same for everybody, and changes with the program alone."""
        return Response(vocabulary())


def vocabulary() -> shapes.Vocabulary:
    """Gather the rules, the constants and what limits can follow."""
    return shapes.Vocabulary(
        rules=[
            shapes.RuleWords(
                id=rule,
                name=RULES[rule].name,
                true_when=RULES[rule].says(DEFAULT_RUN_LENGTH),
                mark=RULES[rule].mark,
                extended=RULES[rule].extended,
            )
            for rule in Rule
        ],
        run_lengths=RUN_LENGTHS,
        values_for_limits=MIN_VALUES_FOR_LIMITS,
        values_for_firm_limits=MIN_VALUES_FOR_FIRM_LIMITS,
        follows=[
            shapes.FollowsWords(
                id=follows,
                name=FOLLOWS_NAMES[follows],
                grains=[grain for grain in Grain if can_follow(follows, grain)],
            )
            for follows in Follows
        ],
        aggregations=[
            shapes.AggregationWords(id=aggregation, name=AGGREGATION_NAMES[aggregation])
            for aggregation in Aggregation
        ],
        values_page=VALUES_PAGE,
        list_page=LIST_PAGE,
    )
