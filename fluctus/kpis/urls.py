"""Addresses of KPIs, below a workspace."""

from django.urls import path

from fluctus.kpis import api, api_events, api_story

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
    path("kpis/<slug:kpi>/lane", api_events.LaneView.as_view(), name="lane"),
    path(
        "kpis/<slug:kpi>/lane/<int:number>", api_events.LaneEventView.as_view(), name="lane-event"
    ),
    path("kpis/<slug:kpi>/comparison", api_story.ComparisonView.as_view(), name="comparison"),
    path("kpis/<slug:kpi>/patterns", api_story.PatternsView.as_view(), name="patterns"),
    path("kpis/<slug:kpi>/trial", api_story.TrialView.as_view(), name="trial"),
    path("kpis/<slug:kpi>/history", api_story.HistoryView.as_view(), name="history"),
    path("events", api_events.EventsView.as_view(), name="events"),
    path("events/<int:number>", api_events.EventView.as_view(), name="event"),
    path("events/file", api_events.EventsFileView.as_view(), name="events-file"),
    path("events/read", api_events.ReadCalendarView.as_view(), name="read-calendar"),
    path("events/imports", api_events.BringCalendarView.as_view(), name="bring-calendar"),
    path(
        "events/imports/<int:number>",
        api_events.BroughtCalendarView.as_view(),
        name="brought-calendar",
    ),
    path("kpis/<slug:kpi>/undo", api.UndoView.as_view(), name="undo"),
    path("kpis/<slug:kpi>/redo", api.RedoView.as_view(), name="redo"),
]
