"""Addresses of sensors."""

from django.urls import path

from web.sensors import views

app_name = "sensors"
urlpatterns = [
    path("", views.sensors, name="sensors"),
    path("api/readings/", views.post_readings, name="post_readings"),
    path("probe/<int:pk>/", views.probe, name="probe"),
    path("probe/<int:pk>/remove/", views.delete_probe, name="delete_probe"),
    path("gateways/", views.gateways, name="gateways"),
    path("gateways/<int:pk>/", views.gateway, name="gateway"),
    path("gateways/<int:pk>/token/", views.renew_token, name="renew_token"),
    path("gateways/<int:pk>/revoke/", views.revoke, name="revoke"),
]
