"""Addresses of the overview, of comparisons and of pages, below a workspace."""

from django.urls import path

from fluctus.overview.compare import api as compare
from fluctus.overview.favorites.api import FavoritesView, FavoriteView
from fluctus.overview.pages import api as pages
from fluctus.overview.strips import api as strips

KPI = "kpis/<slug:kpi>"

urlpatterns = [
    path("overview", strips.OverviewView.as_view(), name="overview"),
    path("overview/order", strips.HandOrderView.as_view(), name="hand-order"),
    path("overview/groups", strips.GroupOrderView.as_view(), name="group-order"),
    path("overview/together", strips.TogetherView.as_view(), name="together"),
    path("favorites", FavoritesView.as_view(), name="favorites"),
    path(f"{KPI}/favorite", FavoriteView.as_view(), name="favorite"),
    path(f"{KPI}/parts", compare.PartsView.as_view(), name="parts"),
    path(f"{KPI}/shares", compare.SharesView.as_view(), name="shares"),
    path(f"{KPI}/places", compare.PlacesView.as_view(), name="by-place"),
    path("compare/goal", compare.GoalView.as_view(), name="against-goal"),
    path("compare/pair", compare.PairView.as_view(), name="pair"),
    path("compare/suggestions", compare.SuggestionsView.as_view(), name="suggestions"),
    path("places", compare.PlacesTableView.as_view(), name="places"),
    path("areas", compare.AreasView.as_view(), name="areas"),
    path("pages", pages.PagesView.as_view(), name="pages"),
    path("pages/<int:number>", pages.PageView.as_view(), name="page"),
    path("pages/<int:number>/panels", pages.PanelsView.as_view(), name="panels"),
    path("panels", pages.ShownPanelsView.as_view(), name="shown-panels"),
    path("pages/<int:number>/history", pages.PageHistoryView.as_view(), name="page-history"),
    path("pages/<int:number>/undo", pages.UndoPageView.as_view(), name="undo-page"),
    path("pages/<int:number>/redo", pages.RedoPageView.as_view(), name="redo-page"),
]
