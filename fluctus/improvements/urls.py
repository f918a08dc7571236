"""Addresses of improvements, below a workspace."""

from django.urls import path

from fluctus.improvements import api

urlpatterns = [
    path("improvements", api.ImprovementsView.as_view(), name="improvements"),
    path("improvements/expected", api.ExpectedView.as_view(), name="expected-improvement"),
    path("improvements/<int:number>", api.ImprovementView.as_view(), name="improvement"),
    path("improvements/<int:number>/back", api.BringBackView.as_view(), name="bring-back"),
]
