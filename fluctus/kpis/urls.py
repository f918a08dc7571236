"""Addresses of KPIs, below a workspace."""

from django.urls import path

from fluctus.kpis import api

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
    path("kpis/<slug:kpi>/undo", api.UndoView.as_view(), name="undo"),
    path("kpis/<slug:kpi>/redo", api.RedoView.as_view(), name="redo"),
]
