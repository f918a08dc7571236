"""Addresses of KPIs, below a workspace."""

from django.urls import path

from fluctus.kpis.acts import api as acts
from fluctus.kpis.chart import api
from fluctus.kpis.events import api as events

urlpatterns = [
    path("kpis", api.KpisView.as_view(), name="kpis"),
    path("kpis/<slug:kpi>", api.KpiView.as_view(), name="kpi"),
    path("kpis/<slug:kpi>/analysis", api.AnalysisView.as_view(), name="analysis"),
    path("kpis/<slug:kpi>/analysis.csv", api.AnalysisCsvView.as_view(), name="analysis-csv"),
    path("kpis/<slug:kpi>/preview", api.PreviewView.as_view(), name="preview"),
    path("kpis/<slug:kpi>/false-alarms", api.FalseAlarmsView.as_view(), name="false-alarms"),
    path("kpis/<slug:kpi>/values", api.ValuesView.as_view(), name="values"),
    path("kpis/<slug:kpi>/values/history", api.VersionsView.as_view(), name="versions"),
    path("kpis/<slug:kpi>/aside", api.SetAsideView.as_view(), name="set-aside"),
    path("kpis/<slug:kpi>/lane", events.LaneView.as_view(), name="lane"),
    path("kpis/<slug:kpi>/lane/<int:number>", events.LaneEventView.as_view(), name="lane-event"),
    path("kpis/<slug:kpi>/comparison", acts.ComparisonView.as_view(), name="comparison"),
    path("kpis/<slug:kpi>/patterns", acts.PatternsView.as_view(), name="patterns"),
    path("kpis/<slug:kpi>/trial", acts.TrialView.as_view(), name="trial"),
    path("kpis/<slug:kpi>/history", acts.HistoryView.as_view(), name="history"),
    path("events", events.EventsView.as_view(), name="events"),
    path("events/<int:number>", events.EventView.as_view(), name="event"),
    path("events/file", events.EventsFileView.as_view(), name="events-file"),
    path("events/read", events.ReadCalendarView.as_view(), name="read-calendar"),
    path("events/imports", events.BringCalendarView.as_view(), name="bring-calendar"),
    path(
        "events/imports/<int:number>",
        events.BroughtCalendarView.as_view(),
        name="brought-calendar",
    ),
    path("kpis/<slug:kpi>/undo", api.UndoView.as_view(), name="undo"),
    path("kpis/<slug:kpi>/redo", api.RedoView.as_view(), name="redo"),
]
