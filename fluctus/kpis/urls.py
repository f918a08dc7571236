"""Addresses of KPIs, below a workspace."""

from django.urls import path

from fluctus.kpis.acts.api import HistoryView, RedoView, TrialView, UndoView
from fluctus.kpis.chart import api as chart
from fluctus.kpis.contributions.api import ContributionsView
from fluctus.kpis.derived.api import DerivedPreviewView, DerivedView
from fluctus.kpis.events import api as events
from fluctus.kpis.events import calendar_api as calendars
from fluctus.kpis.values.api import SetAsideView, ValuesOnChartView, ValuesView, VersionsView

KPI = "kpis/<slug:kpi>"

urlpatterns = [
    path("kpis", chart.KpisView.as_view(), name="kpis"),
    path(KPI, chart.KpiView.as_view(), name="kpi"),
    path(f"{KPI}/analysis", chart.AnalysisView.as_view(), name="analysis"),
    path(f"{KPI}/analysis.csv", chart.AnalysisCsvView.as_view(), name="analysis-csv"),
    path(f"{KPI}/preview", chart.PreviewView.as_view(), name="preview"),
    path(f"{KPI}/preview/levels", chart.PreviewLevelsView.as_view(), name="preview-levels"),
    path(f"{KPI}/comparison", chart.ComparisonView.as_view(), name="comparison"),
    path(f"{KPI}/summary", chart.SummaryView.as_view(), name="summary"),
    path(f"{KPI}/offers", chart.OffersView.as_view(), name="offers"),
    path(f"{KPI}/patterns", chart.PatternsView.as_view(), name="patterns"),
    path(f"{KPI}/false-alarms", chart.FalseAlarmsView.as_view(), name="false-alarms"),
    path(f"{KPI}/how-soon", chart.HowSoonView.as_view(), name="how-soon"),
    path(f"{KPI}/reach", chart.ReachView.as_view(), name="reach"),
    path(f"{KPI}/derivation", DerivedView.as_view(), name="derived"),
    path(f"{KPI}/derivation/preview", DerivedPreviewView.as_view(), name="preview-derived"),
    path(f"{KPI}/contributions", ContributionsView.as_view(), name="contributions"),
    path(f"{KPI}/values", ValuesView.as_view(), name="values"),
    path(f"{KPI}/values/on-chart", ValuesOnChartView.as_view(), name="values-on-chart"),
    path(f"{KPI}/values/history", VersionsView.as_view(), name="versions"),
    path(f"{KPI}/aside", SetAsideView.as_view(), name="set-aside"),
    path(f"{KPI}/lane", events.LaneView.as_view(), name="lane"),
    path(f"{KPI}/lane/<int:number>", events.LaneEventView.as_view(), name="lane-event"),
    path(f"{KPI}/states", events.StatesView.as_view(), name="states"),
    path(f"{KPI}/trial", TrialView.as_view(), name="trial"),
    path(f"{KPI}/history", HistoryView.as_view(), name="history"),
    path(f"{KPI}/undo", UndoView.as_view(), name="undo"),
    path(f"{KPI}/redo", RedoView.as_view(), name="redo"),
    path("events", events.EventsView.as_view(), name="events"),
    path("events/<int:number>", events.EventView.as_view(), name="event"),
    path("events/file", calendars.EventsFileView.as_view(), name="events-file"),
    path("events/read", calendars.ReadCalendarView.as_view(), name="read-calendar"),
    path("events/imports", calendars.BringCalendarView.as_view(), name="bring-calendar"),
    path(
        "events/imports/<int:number>",
        calendars.BroughtCalendarView.as_view(),
        name="brought-calendar",
    ),
]
