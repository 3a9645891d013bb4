"""Addresses of jobs."""

from django.urls import path

from web.jobs import feeds, programmes, season, unavailable_days, views

app_name = "jobs"
urlpatterns = [
    path("", views.jobs, name="jobs"),
    path("today/", views.say_today, name="say_today"),
    path("<int:pk>/", views.job, name="job"),
    path("<int:pk>/drop/", views.drop_job, name="drop"),
    path("<int:pk>/give/", views.assign, name="assign"),
    path("season/", season.season, name="season"),
    path("season.csv", season.season_csv, name="season_csv"),
    path("sheet/", views.day_sheet, name="sheet"),
    path("calendar/", feeds.calendar_page, name="calendar"),
    path("calendar/make/", feeds.make_feed, name="make_feed"),
    path("calendar/revoke/", feeds.revoke_feed, name="revoke_feed"),
    path("calendar/jobs.ics", feeds.calendar_file, name="calendar_file"),
    path("feed/<str:token>.ics", feeds.feed, name="feed"),
    path("sw.js", views.worker, name="worker"),
    path("programmes/", programmes.all_programmes, name="programmes"),
    path("programmes/<slug:key>/", programmes.programme, name="programme"),
    path("programmes/<slug:key>/copy/", programmes.copy_programme, name="copy_programme"),
    path("programmes/own/<int:pk>/", programmes.edit_programme, name="edit_programme"),
    path("programmes/own/<int:pk>/take-out/", programmes.drop_programme, name="drop_programme"),
    path("days/", unavailable_days.days, name="days"),
    path("days/take-out/", unavailable_days.drop_days, name="drop_days"),
]
