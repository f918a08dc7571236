"""Addresses of the reports app, below a workspace."""

from django.urls import path

from fluctus.reports import api
from fluctus.reports.for_you.api import ForYouView
from fluctus.reports.meeting.api import BuildUpView

REPORT = "reports/<int:number>"

urlpatterns = [
    path("reports", api.ReportsView.as_view(), name="reports"),
    path("kpis/<slug:kpi>/build-up", BuildUpView.as_view(), name="build-up"),
    path("for-you", ForYouView.as_view(), name="for-you"),
    path("packages", api.PackagesView.as_view(), name="packages"),
    path(REPORT, api.ReportView.as_view(), name="report"),
    path(f"{REPORT}/cancel", api.CancelReportView.as_view(), name="cancel-report"),
    path(f"{REPORT}/again", api.ReportAgainView.as_view(), name="report-again"),
    path(f"{REPORT}/file", api.ReportFileView.as_view(), name="report-file"),
    path(f"{REPORT}/pages/<int:page>", api.ReportPageView.as_view(), name="report-page"),
]
