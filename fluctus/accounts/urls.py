"""Addresses of the accounts app, below /api/v1/."""

from django.urls import path

from fluctus.accounts.api import DemoSessionView, SessionCodeView, SessionView
from fluctus.accounts.elsewhere import api as elsewhere
from fluctus.accounts.own import api as own
from fluctus.accounts.people import api as people
from fluctus.accounts.record.api import RecordView
from fluctus.accounts.room.api import RoomView
from fluctus.accounts.second_step.api import SecondStepView
from fluctus.accounts.tokens import api as tokens

OF_WORKSPACE = "workspaces/<slug:workspace>"

urlpatterns = [
    path("session", SessionView.as_view(), name="session"),
    path("session/code", SessionCodeView.as_view(), name="session-code"),
    path("session/demo", DemoSessionView.as_view(), name="demo-session"),
    path("password", own.PasswordView.as_view(), name="password"),
    path("password/letter", own.ForgottenPasswordView.as_view(), name="password-letter"),
    path("password/reset", own.ResetPasswordView.as_view(), name="password-reset"),
    path("session/confirm", own.ConfirmView.as_view(), name="confirm"),
    path("session/elsewhere", elsewhere.SessionElsewhereView.as_view(), name="session-elsewhere"),
    path("session/elsewhere/back", elsewhere.back_from_elsewhere, name="back-from-elsewhere"),
    path("elsewhere", elsewhere.ElsewhereView.as_view(), name="elsewhere"),
    path("account", own.AccountView.as_view(), name="account"),
    path("account/data", own.AccountDataView.as_view(), name="account-data"),
    path("second-step", SecondStepView.as_view(), name="second-step"),
    path("browsers", own.BrowsersView.as_view(), name="browsers"),
    path("browsers/<int:number>", own.BrowserView.as_view(), name="browser"),
    path("invitation", people.OpenInvitationView.as_view(), name="open-invitation"),
    path("invitation/join", people.JoinView.as_view(), name="join"),
    path(OF_WORKSPACE, people.WorkspaceView.as_view(), name="workspace"),
    path(f"{OF_WORKSPACE}/people", people.PeopleView.as_view(), name="people"),
    path(f"{OF_WORKSPACE}/members", people.MembersView.as_view(), name="members"),
    path(f"{OF_WORKSPACE}/people/<int:number>", people.PersonView.as_view(), name="person"),
    path(f"{OF_WORKSPACE}/leave", people.LeaveView.as_view(), name="leave"),
    path(f"{OF_WORKSPACE}/invitations", people.InvitationsView.as_view(), name="invitations"),
    path(
        f"{OF_WORKSPACE}/invitations/<int:number>",
        people.InvitationView.as_view(),
        name="invitation",
    ),
    path(f"{OF_WORKSPACE}/tokens", tokens.TokensView.as_view(), name="tokens"),
    path(f"{OF_WORKSPACE}/tokens/<int:number>", tokens.TokenView.as_view(), name="token"),
    path(f"{OF_WORKSPACE}/room", RoomView.as_view(), name="room"),
    path(f"{OF_WORKSPACE}/record", RecordView.as_view(), name="record"),
]
