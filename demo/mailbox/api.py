"""The mailbox over HTTP: in demo mode, for the letters of the demo's workspace."""

from dataclasses import dataclass
from datetime import datetime

from django.conf import settings
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from demo.models import Letter
from fluctus.accounts.services import DEMO_WORKSPACE
from fluctus.http.problems import PROBLEMS
from fluctus.http.refusals import NotThereError
from fluctus.http.shapes import Shape, schema_of_list


@dataclass(frozen=True, slots=True)
class LetterRow(Shape):
    """A letter that would have been sent."""

    id: int
    at: datetime
    to: str
    subject: str
    text: str


class LettersView(APIView):
    """The letters of the demo."""

    @extend_schema(operation_id="letters", responses={200: schema_of_list(LetterRow), **PROBLEMS})
    def get(self, request: Request) -> Response:
        """List them, newest first.

        A letter that is any business of another workspace is not among them: anybody can
        enter the demo, and it may open somebody's account.
        """
        if not settings.DEMO:
            raise NotThereError("mailbox")
        letters = Letter.objects.filter(workspaces=DEMO_WORKSPACE).order_by("-pk")
        return Response(
            [LetterRow(row.pk, row.at, row.to, row.subject, row.text) for row in letters]
        )
