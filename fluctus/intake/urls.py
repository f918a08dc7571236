"""Addresses of the intake, below a workspace."""

from django.urls import path

from fluctus.intake import api
from fluctus.intake.kept import api as kept

urlpatterns = [
    path("uploads", api.UploadsView.as_view(), name="uploads"),
    path("uploads/<int:upload>", api.UploadView.as_view(), name="upload"),
    path("uploads/<int:upload>/read", api.ReadView.as_view(), name="read-upload"),
    path("uploads/<int:upload>/import", api.BringInView.as_view(), name="bring-in"),
    path("uploads/<int:upload>/keep", kept.KeepReadingView.as_view(), name="keep-reading"),
    path("readings", kept.KeptReadingsView.as_view(), name="kept-readings"),
    path("readings/<int:number>", kept.KeptReadingView.as_view(), name="kept-reading"),
    path("imports", api.ImportsView.as_view(), name="imports"),
    path("imports/<int:number>", api.ImportView.as_view(), name="import"),
    path("imports/<int:number>/cancel", api.CancelImportView.as_view(), name="cancel-import"),
    path("imports/<int:number>/again", api.BeginAgainView.as_view(), name="begin-again"),
    path("imports/<int:number>/undo", api.UndoImportView.as_view(), name="undo-import"),
]
