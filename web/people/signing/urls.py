"""Addresses of signing in and what belongs to it. Their names are django-allauth's: it goes from page to page by them."""

from django.urls import path, re_path
from django.views.generic import RedirectView

from web.people.signing import pages

urlpatterns = [
    path("sign-up/", pages.SignUp.as_view(), name="account_signup"),
    path("sign-in/", pages.SignIn.as_view(), name="account_login"),
    path("sign-in/code/", pages.Code.as_view(), name="mfa_authenticate"),
    path("sign-in/closed/", pages.Inactive.as_view(), name="account_inactive"),
    path("sign-out/", pages.SignOut.as_view(), name="account_logout"),
    path("forgotten/", pages.Forgotten.as_view(), name="account_reset_password"),
    path("forgotten/sent/", pages.ForgottenSent.as_view(), name="account_reset_password_done"),
    path("forgotten/done/", pages.NewPasswordKept.as_view(), name="account_reset_password_from_key_done"),
    re_path(r"^forgotten/(?P<uidb36>[0-9A-Za-z]+)-(?P<key>.+)/$", pages.NewPassword.as_view(), name="account_reset_password_from_key"),
    path("password/", pages.ChangePassword.as_view(), name="account_change_password"),
    path("confirm/sent/", pages.LookInMail.as_view(), name="account_email_verification_sent"),
    path("confirm/<str:key>/", pages.Confirm.as_view(), name="account_confirm_email"),
    path("account/address/", pages.Address.as_view(), name="account_email"),
    path("account/once-more/", pages.OnceMore.as_view(), name="account_reauthenticate"),
    path("account/once-more/code/", pages.CodeOnceMore.as_view(), name="mfa_reauthenticate"),
    path("account/code/", pages.TurnOnCodes.as_view(), name="mfa_activate_totp"),
    path("account/codes/", RedirectView.as_view(pattern_name="people:account"), name="mfa_index"),  # for who may not turn them on
    path("account/code/off/", pages.TurnOffCodes.as_view(), name="mfa_deactivate_totp"),
    path("account/code/paper/", pages.PaperCodes.as_view(), name="mfa_view_recovery_codes"),
    path("account/code/paper/new/", pages.NewPaperCodes.as_view(), name="mfa_generate_recovery_codes"),
]
