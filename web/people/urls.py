"""Addresses of people and holdings."""

from django.urls import path

from web.people import account, invitations, views

app_name = "people"
urlpatterns = [
    path("account/", account.account, name="account"),
    path("account/sign-ins/<int:pk>/end/", account.end_session, name="end_session"),
    path("account/sign-ins/end-others/", account.end_others, name="end_others"),
    path("account/close/", account.close, name="close_account"),
    path("holding/new/", account.new_holding, name="new_holding"),
    path("holding/", views.holding_settings, name="holding"),
    path("people/", invitations.people, name="people"),
    path("people/<int:pk>/role/", invitations.change_role, name="change_role"),
    path("people/<int:pk>/take-out/", invitations.take_out, name="take_out"),
    path("people/invitation/<int:pk>/take-back/", invitations.take_back, name="take_back"),
    path("join/<str:token>/", invitations.join, name="join"),
    path("choose/", invitations.choose_holding, name="choose_holding"),
    path("units/", views.switch_units, name="units"),
]
