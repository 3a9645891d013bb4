"""Addresses of people and holdings."""

from django.contrib.auth import views as auth
from django.contrib.auth.decorators import login_not_required
from django.urls import path

from web.people import account, confirming, invitations, passwords, second_step, views

app_name = "people"
urlpatterns = [
    *passwords.urlpatterns,
    path("sign-up/", views.sign_up, name="sign_up"),
    path("sign-in/", login_not_required(second_step.SignIn.as_view()), name="sign_in"),
    path("sign-in/code/", second_step.second_step, name="second_step"),
    path("sign-out/", auth.LogoutView.as_view(), name="sign_out"),
    path("password/", account.ChangePassword.as_view(), name="password"),
    path("password/done/", auth.PasswordChangeDoneView.as_view(template_name="people/password_done.html"), name="password_done"),
    path("account/", account.account, name="account"),
    path("account/sign-ins/<int:pk>/end/", account.end_session, name="end_session"),
    path("account/sign-ins/end-others/", account.end_others, name="end_others"),
    path("account/code/", second_step.turn_on, name="turn_on_codes"),
    path("account/code/off/", second_step.turn_off, name="turn_off_codes"),
    path("account/close/", account.close, name="close_account"),
    path("confirm/sent/", confirming.look_in_mail, name="look_in_mail"),
    path("confirm/<str:uid>/<str:token>/", confirming.confirm, name="confirm"),
    path("holding/new/", account.new_holding, name="new_holding"),
    path("people/<int:pk>/role/", invitations.change_role, name="change_role"),
    path("holding/", views.holding_settings, name="holding"),
    path("people/", invitations.people, name="people"),
    path("people/<int:pk>/take-out/", invitations.take_out, name="take_out"),
    path("people/invitation/<int:pk>/take-back/", invitations.take_back, name="take_back"),
    path("join/<str:token>/", invitations.join, name="join"),
    path("choose/", invitations.choose_holding, name="choose_holding"),
    path("units/", views.switch_units, name="units"),
]
