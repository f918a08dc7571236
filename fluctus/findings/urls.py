"""Addresses of findings, below a workspace."""

from django.urls import path

from fluctus.findings import api

urlpatterns = [
    path("findings", api.LogView.as_view(), name="findings"),
    path("findings.csv", api.LogCsvView.as_view(), name="findings-csv"),
    path("findings/new", api.NewView.as_view(), name="new-findings"),
    path("findings/several", api.CausesView.as_view(), name="several-findings"),
    path("findings/<int:number>", api.FindingView.as_view(), name="finding"),
    path("findings/<int:number>/remarks", api.RemarksView.as_view(), name="remarks"),
    path("kpis/<slug:kpi>/findings", api.KpiFindingsView.as_view(), name="kpi-findings"),
]
