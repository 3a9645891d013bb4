"""Addresses of people and holdings."""

from django.contrib.auth import views as auth
from django.contrib.auth.decorators import login_not_required
from django.urls import path, reverse_lazy

from web.people import invitations, passwords, views

app_name = "people"
urlpatterns = [
    *passwords.urlpatterns,
    path("sign-up/", views.sign_up, name="sign_up"),
    path(
        "sign-in/",
        login_not_required(auth.LoginView.as_view(template_name="people/sign_in.html", redirect_authenticated_user=True)),
        name="sign_in",
    ),
    path("sign-out/", auth.LogoutView.as_view(), name="sign_out"),
    path(
        "password/",
        auth.PasswordChangeView.as_view(template_name="people/password.html", success_url=reverse_lazy("people:password_done")),
        name="password",
    ),
    path("password/done/", auth.PasswordChangeDoneView.as_view(template_name="people/password_done.html"), name="password_done"),
    path("holding/", views.holding_settings, name="holding"),
    path("people/", invitations.people, name="people"),
    path("people/<int:pk>/take-out/", invitations.take_out, name="take_out"),
    path("people/invitation/<int:pk>/take-back/", invitations.take_back, name="take_back"),
    path("join/<str:token>/", invitations.join, name="join"),
    path("choose/", invitations.choose_holding, name="choose_holding"),
    path("units/", views.switch_units, name="units"),
]
