"""Addresses of practice."""

from django.urls import path

from web.practice import views, years

app_name = "practice"
urlpatterns = [
    path("", views.practice, name="practice"),
    path("years/", years.stories, name="stories"),
    path("years/<slug:story>/", years.years, name="years"),
    path("<slug:kind>/", views.exercise, name="exercise"),
]
