"""Addresses of what is due, below a workspace."""

from django.urls import path

from fluctus.filling import api

urlpatterns = [
    path("fill-in", api.FillInView.as_view(), name="fill-in"),
    path("fill-in/judge", api.JudgeView.as_view(), name="judge-values"),
    path("fill-in/by", api.FilledByView.as_view(), name="filled-by"),
]
