"""Addresses of messages."""

from django.urls import path

from fluctus.messages import api

BASE = "workspaces/<slug:workspace>"
urlpatterns = [
    path(f"{BASE}/messages", api.MessagesView.as_view(), name="messages"),
    path(f"{BASE}/messages/wish", api.WishView.as_view(), name="wish"),
    path(f"{BASE}/messages/digest", api.DigestView.as_view(), name="digest"),
    path(f"{BASE}/messages/letter", api.LetterView.as_view(), name="digest-letter"),
    path(f"{BASE}/scheduled-reports", api.ScheduledReportsView.as_view(), name="scheduled-reports"),
    path(
        f"{BASE}/scheduled-reports/<int:number>",
        api.ScheduledReportView.as_view(),
        name="scheduled-report",
    ),
    path(
        f"{BASE}/reports/<int:number>/scheduled",
        api.NewScheduledView.as_view(),
        name="keep-scheduled",
    ),
    path(f"{BASE}/changes", api.ChangesView.as_view(), name="changes"),
    path(f"{BASE}/webhooks", api.WebhooksView.as_view(), name="webhooks"),
    path(f"{BASE}/webhooks/<int:number>", api.WebhookView.as_view(), name="webhook"),
    path(f"{BASE}/webhooks/<int:number>/try", api.TryWebhookView.as_view(), name="try-webhook"),
    path(f"{BASE}/deliveries/<int:number>/again", api.SendAgainView.as_view(), name="send-again"),
    path(f"{BASE}/messages/address", api.FollowView.as_view(), name="follow"),
    path(
        "followed/<str:secret>/findings.atom",
        api.FollowedFindingsView.as_view(),
        name="followed-findings",
    ),
    path(
        "followed/<str:secret>/events.ics", api.FollowedEventsView.as_view(), name="followed-events"
    ),
    path("unsubscribe/<str:secret>", api.UnsubscribeView.as_view(), name="unsubscribe"),
]
