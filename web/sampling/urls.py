"""Addresses of sampling."""

from django.urls import path

from web.sampling import sheets, views

app_name = "sampling"
urlpatterns = [
    path("", views.rounds, name="rounds"),
    path("new/", views.new_round, name="new_round"),
    path("<int:pk>/", views.one_round, name="round"),
    path("<int:pk>/all/<slug:step>/", views.mark_all, name="mark_all"),
    path("<int:pk>/remove/", views.delete_round, name="delete_round"),
    path("<int:pk>/labels/", sheets.labels, name="labels"),
    path("<int:pk>/forms/", sheets.lab_forms, name="lab_forms"),
    path("bag/<int:pk>/", views.sample, name="sample"),
    path("bag/<int:pk>/remove/", views.delete_sample, name="delete_sample"),
    path("at/<slug:code>/", views.at_the_plot, name="at_the_plot"),
    path("at/<slug:code>/core/<int:number>/", views.mark_core, name="mark_core"),
]
