"""Addresses of changes."""

from django.urls import path

from web.changes import views

app_name = "changes"
urlpatterns = [
    path("", views.recent, name="recent"),
    path("<int:pk>/undo/", views.undo_change, name="undo"),
]
