"""Addresses of trials."""

from django.urls import path

from web.trials import views

app_name = "trials"
urlpatterns = [
    path("", views.trials, name="trials"),
    path("new/", views.new_trial, name="new_trial"),
    path("<int:pk>/", views.trial, name="trial"),
    path("<int:pk>/redraw/", views.redraw, name="redraw"),
    path("<int:pk>/take-out/", views.delete_trial, name="delete_trial"),
]
