"""Addresses of readings."""

from django.urls import path

from web.readings import views

app_name = "readings"
urlpatterns = [
    path("", views.slips, name="slips"),
    path("new/", views.new_slip, name="new_slip"),
    path("readings.csv", views.export_csv, name="export"),
    path("check-line/<int:place>/", views.check_line, name="check_line"),
    path("lines-for-lab/", views.lines_for_lab, name="lines_for_lab"),
    path("<int:pk>/edit/", views.edit_slip, name="edit_slip"),
    path("<int:pk>/remove/", views.delete_slip, name="delete_slip"),
]
