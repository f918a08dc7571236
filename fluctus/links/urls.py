"""Addresses of the links app, below /api/v1/."""

from django.urls import path

from fluctus.links import api

OF_WORKSPACE = "workspaces/<slug:workspace>"
SHARED = "shared/<str:secret>"

urlpatterns = [
    path(f"{OF_WORKSPACE}/links", api.LinksView.as_view(), name="links"),
    path(f"{OF_WORKSPACE}/links/<int:number>", api.LinkView.as_view(), name="link"),
    path(f"{OF_WORKSPACE}/frames", api.FramesView.as_view(), name="frames"),
    path(SHARED, api.SharedView.as_view(), name="shared"),
    path(f"{SHARED}/key", api.SharedKeyView.as_view(), name="shared-key"),
    path(f"{SHARED}/file", api.SharedFileView.as_view(), name="shared-file"),
    path(f"{SHARED}/pages/<int:page>", api.SharedPageView.as_view(), name="shared-page"),
]
