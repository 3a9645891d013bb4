"""Addresses of the application records."""

from django.urls import path

from web.records import log, photos, totals

app_name = "records"
urlpatterns = [
    path("", log.log, name="log"),
    path("<int:pk>/correct/", log.correct, name="correct"),
    path("photo/<int:pk>.jpg", photos.photo, name="photo"),
    path("totals/", totals.year_totals, name="totals"),
]
