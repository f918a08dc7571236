"""Addresses of the overview, of comparisons and of pages, below a workspace."""

from django.urls import path

from fluctus.overview.strips import api as strips

urlpatterns = [
    path("overview", strips.OverviewView.as_view(), name="overview"),
    path("overview/order", strips.HandOrderView.as_view(), name="hand-order"),
    path("overview/together", strips.TogetherView.as_view(), name="together"),
]
