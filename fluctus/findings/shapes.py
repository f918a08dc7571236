"""The shapes of findings, for checking and for the API's description."""

from rest_framework import serializers

from fluctus.core import Rule, Side
from fluctus.findings.models import Finding
from fluctus.kpis.chart.shapes import Plain, choices


class LogQuerySerializer(Plain):
    """Which findings to give."""

    state = serializers.ListField(
        child=serializers.ChoiceField(Finding.State.choices), default=list
    )
    kpi = serializers.CharField(required=False, max_length=80)
    rule = serializers.ChoiceField(choices(Rule), required=False)
    person = serializers.CharField(
        required=False, allow_blank=True, max_length=150, help_text="Empty: those of nobody."
    )
    since = serializers.DateField(required=False)
    until = serializers.DateField(required=False)
    favorable = serializers.BooleanField(required=False, allow_null=True, default=None)
    gone = serializers.BooleanField(
        default=False, help_text="Whether those that signal no more are wanted as well."
    )
    start = serializers.IntegerField(min_value=0, default=0)


class FindingSerializer(Plain):
    """A finding."""

    id = serializers.IntegerField()
    kpi = serializers.CharField()
    kpi_name = serializers.CharField()
    rule = serializers.ChoiceField(choices(Rule))
    side = serializers.ChoiceField([(side.value, side.name.lower()) for side in Side])
    first = serializers.CharField()
    last = serializers.CharField()
    label = serializers.CharField()  # type: ignore[assignment]
    points = serializers.IntegerField()
    title = serializers.CharField()
    text = serializers.CharField()
    favorable = serializers.BooleanField(allow_null=True)
    state = serializers.ChoiceField(Finding.State.choices)
    standing = serializers.ChoiceField(Finding.Standing.choices)
    cause = serializers.CharField()
    action = serializers.CharField()
    person = serializers.CharField(allow_null=True, help_text="By username.")
    person_name = serializers.CharField()
    due = serializers.CharField(allow_null=True)
    version = serializers.IntegerField()


class MemberSerializer(Plain):
    """Somebody in the workspace."""

    username = serializers.CharField()
    name = serializers.CharField()


class StateCountsSerializer(Plain):
    """How many findings are in each state."""

    open = serializers.IntegerField()
    looking = serializers.IntegerField()
    explained = serializers.IntegerField()
    aside = serializers.IntegerField()
    shift = serializers.IntegerField()


class LogSerializer(Plain):
    """A stretch of the findings of a workspace, newest first."""

    count = serializers.IntegerField()
    start = serializers.IntegerField()
    counts = StateCountsSerializer()
    findings = FindingSerializer(many=True)
    people = MemberSerializer(many=True)


class ReasonSerializer(Plain):
    """One thing that says why a finding is flagged."""

    name = serializers.CharField()
    text = serializers.CharField()


class EntrySerializer(Plain):
    """A remark, or something that happened; an author of "" is the data."""

    id = serializers.IntegerField()
    author = serializers.CharField()
    at = serializers.CharField()
    remark = serializers.BooleanField()
    text = serializers.CharField()


class NearFindingSerializer(Plain):
    """A finding of another KPI near this one."""

    kpi = serializers.CharField()
    kpi_name = serializers.CharField()
    title = serializers.CharField()
    label = serializers.CharField()  # type: ignore[assignment]
    when = serializers.CharField()


class NearEventSerializer(Plain):
    """An event near a finding."""

    title = serializers.CharField()
    first = serializers.CharField()
    last = serializers.CharField()
    when = serializers.CharField()


class NearImportSerializer(Plain):
    """Data that came in near a finding."""

    kpi = serializers.CharField()
    kpi_name = serializers.CharField()
    title = serializers.CharField()
    author = serializers.CharField()
    when = serializers.CharField()


class SurroundingsSerializer(Plain):
    """What else was going on."""

    findings = NearFindingSerializer(many=True)
    events = NearEventSerializer(many=True)
    states = NearEventSerializer(many=True)
    imports = NearImportSerializer(many=True)


class FindingDetailSerializer(FindingSerializer):
    """A finding with why it is flagged, what was said, and what else was going on."""

    why = ReasonSerializer(many=True)
    entries = EntrySerializer(many=True)
    surroundings = SurroundingsSerializer()
    people = MemberSerializer(many=True)


class WithinSerializer(Plain):
    """How many periods before and after a finding to look for what else was going on."""

    within = serializers.IntegerField(min_value=0, max_value=60, default=3)


class FindingInSerializer(Plain):
    """What a person makes of a finding; what is left out stays as it is."""

    state = serializers.ChoiceField(Finding.State.choices, required=False)
    cause = serializers.CharField(max_length=500, allow_blank=True, required=False)
    action = serializers.CharField(max_length=500, allow_blank=True, required=False)
    person = serializers.CharField(max_length=150, allow_null=True, required=False)
    due = serializers.DateField(allow_null=True, required=False)


class RemarkInSerializer(Plain):
    """A remark."""

    text = serializers.CharField(max_length=2000)
