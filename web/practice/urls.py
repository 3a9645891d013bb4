"""Addresses of practice."""

from django.urls import path

from web.practice import views

app_name = "practice"
urlpatterns = [
    path("", views.practice, name="practice"),
    path("<slug:kind>/", views.exercise, name="exercise"),
]
