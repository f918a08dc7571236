"""Addresses of feeds, below a workspace."""

from django.urls import path

from fluctus.feeds import api

urlpatterns = [
    path("feeds", api.FeedsView.as_view(), name="feeds"),
    path("feeds/look", api.LookAtFeedView.as_view(), name="look-at-feed"),
    path("feeds/when", api.WhenView.as_view(), name="when"),
    path("feeds/<int:number>", api.FeedView.as_view(), name="feed"),
    path("feeds/<int:number>/set-up", api.SetUpFeedView.as_view(), name="set-up-feed"),
    path("feeds/<int:number>/fetch", api.FetchNowView.as_view(), name="fetch-now"),
    path("feeds/<int:number>/stop", api.StopFetchView.as_view(), name="stop-fetch"),
    path("feeds/<int:number>/decide", api.DecideView.as_view(), name="decide-on-feed"),
    path("feeds/<int:number>/held", api.HeldView.as_view(), name="held-table"),
    path("feeds/<int:number>/learn", api.LearnView.as_view(), name="learn-shape"),
]
