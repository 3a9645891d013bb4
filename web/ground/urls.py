"""Addresses of plots."""

from django.urls import path

from web.ground import views

app_name = "ground"
urlpatterns = [
    path("new/", views.new_plot, name="new_plot"),
    path("<int:pk>/edit/", views.edit_plot, name="edit_plot"),
    path("<int:pk>/remove/", views.delete_plot, name="delete_plot"),
]
