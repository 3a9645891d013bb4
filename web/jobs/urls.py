"""Addresses of jobs and the log."""

from django.urls import path

from web.jobs import views

app_name = "jobs"
urlpatterns = [
    path("", views.jobs, name="jobs"),
    path("<int:pk>/", views.job, name="job"),
    path("<int:pk>/drop/", views.drop_job, name="drop"),
    path("<int:pk>/give/", views.assign, name="assign"),
    path("sheet/", views.day_sheet, name="sheet"),
    path("log/", views.log, name="log"),
    path("log/<int:pk>/correct/", views.correct, name="correct"),
    path("totals/", views.year_totals, name="totals"),
]
