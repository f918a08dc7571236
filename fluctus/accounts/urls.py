"""Addresses of the accounts app, below /api/v1/."""

from django.urls import path

from fluctus.accounts.api import DemoSessionView, SessionView

urlpatterns = [
    path("session", SessionView.as_view(), name="session"),
    path("session/demo", DemoSessionView.as_view(), name="demo-session"),
]
