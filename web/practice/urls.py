"""Addresses of practice."""

from django.urls import path

from web.practice import sets, views, years

app_name = "practice"
urlpatterns = [
    path("", views.practice, name="practice"),
    path("years/", years.stories, name="stories"),
    path("years/<slug:story>/", years.years, name="years"),
    path("sets/", sets.sets, name="sets"),
    path("set/<slug:code>/", sets.practice_set, name="set"),
    path("<slug:kind>/", views.exercise, name="exercise"),
]
