"""Addresses of the intake, below a workspace."""

from django.urls import path

from fluctus.intake import api

urlpatterns = [
    path("intake/read", api.ReadTableView.as_view(), name="read-table"),
    path("intake/kpis", api.NewKpiView.as_view(), name="new-kpi"),
]
