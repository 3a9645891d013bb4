"""Addresses of trials."""

from django.urls import path

from web.trials import data, doses, labels, photos, views

app_name = "trials"
urlpatterns = [
    path("", views.trials, name="trials"),
    path("new/", views.new_trial, name="new_trial"),
    path("<int:pk>/", views.trial, name="trial"),
    path("<int:pk>/redraw/", views.redraw, name="redraw"),
    path("<int:pk>/take-out/", views.delete_trial, name="delete_trial"),
    path("<int:pk>/doses/", doses.doses, name="doses"),
    path("<int:pk>/doses/list/", doses.put_doses_on_list, name="put_doses_on_list"),
    path("<int:pk>/measure/", doses.measure_on, name="measure_on"),
    path("<int:pk>/data.csv", data.data_csv, name="data_csv"),
    path("<int:pk>/data/", data.data_in, name="data_in"),
    path("<int:pk>/photos/", photos.add_photo, name="add_photo"),
    path("photos/<int:pk>/take-out/", photos.drop_photo, name="drop_photo"),
    path("<int:pk>/labels/", labels.labels, name="labels"),
]
