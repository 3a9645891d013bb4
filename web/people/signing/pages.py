"""The pages of signing in and up, of passwords, addresses and codes: django-allauth's views with our templates."""

from typing import Any

from allauth.account import views as account
from allauth.account.adapter import get_adapter
from allauth.mfa.base import views as codes
from allauth.mfa.recovery_codes import views as paper
from allauth.mfa.totp import views as phone
from django.contrib import messages
from django.db import IntegrityError, transaction
from django.http import Http404
from django.shortcuts import redirect
from django.urls import reverse, reverse_lazy

from web.drawing.labels import qr_path


class Refused:
    """A form that does not serve is answered with 422, as in all of this house."""

    def form_invalid(self, form):
        answer = super().form_invalid(form)  # type: ignore[misc]  # of the view that this is mixed into
        answer.status_code = 422
        return answer


class SignIn(account.LoginView):
    template_name = "people/sign_in.html"


class SignUp(Refused, account.SignupView):
    template_name = "people/sign_up.html"

    def form_valid(self, form):
        try:
            with transaction.atomic():
                return super().form_valid(form)
        except IntegrityError:  # the same form, sent twice at once
            form.add_error("email", get_adapter().validation_error("email_taken"))
            return self.form_invalid(form)


class SignOut(account.LogoutView):
    template_name = "people/sign_out.html"


class Forgotten(Refused, account.PasswordResetView):
    template_name = "people/forgotten.html"


class ForgottenSent(account.PasswordResetDoneView):
    template_name = "people/forgotten_sent.html"


class NewPassword(Refused, account.PasswordResetFromKeyView):
    template_name = "people/new_password.html"

    def get_context_data(self, **kwargs) -> dict:
        return super().get_context_data(**({"form": None} if kwargs.get("token_fail") else {}), **kwargs)


class NewPasswordKept(account.PasswordResetFromKeyDoneView):
    template_name = "people/new_password_done.html"


class ChangePassword(Refused, account.PasswordChangeView):
    template_name = "people/password.html"
    success_url = reverse_lazy("people:account")

    def get_default_success_url(self):
        return str(self.success_url)


class OnceMore(Refused, account.ReauthenticateView):
    template_name = "people/once_more.html"


class CodeOnceMore(Refused, codes.ReauthenticateView):
    template_name = "people/once_more.html"


class Address(Refused, account.EmailView):
    template_name = "people/address.html"


class LookInMail(account.EmailVerificationSentView):
    template_name = "people/look_in_mail.html"


class Confirm(account.ConfirmEmailView):
    """The page behind a mail's link; its button confirms, so that a mail scanner that opens links confirms nothing."""

    template_name = "people/confirm.html"

    def post(self, *args, **kwargs):
        try:
            with transaction.atomic():
                return super().post(*args, **kwargs)
        except Http404:
            self.object: Any = None
            return self.render_to_response(self.get_context_data())
        except IntegrityError:  # somebody signed up with the address while its link was on the way
            get_adapter().add_message(
                self.request, messages.ERROR, "account/messages/email_confirmation_failed.txt", {"email": self.object.email_address.email}
            )
            return redirect("people:account")


class Inactive(account.AccountInactiveView):
    template_name = "people/inactive.html"


class Code(Refused, codes.AuthenticateView):
    template_name = "people/second_step.html"


class TurnOnCodes(Refused, phone.ActivateTOTPView):
    """The secret as a drawing for the phone, and as letters."""

    template_name = "people/turn_on_codes.html"

    def get_context_data(self, **kwargs) -> dict:
        context = super().get_context_data(**kwargs)
        path, modules = qr_path(context["totp_url"])
        secret = context["form"].secret
        spaced = " ".join(secret[place : place + 4] for place in range(0, len(secret), 4))
        return context | {"path": path, "modules": modules, "secret": spaced}

    def get_success_url(self) -> str:
        return reverse("mfa_view_recovery_codes" if self.did_generate_recovery_codes else "people:account")


class TurnOffCodes(Refused, phone.DeactivateTOTPView):
    template_name = "people/turn_off_codes.html"
    success_url = reverse_lazy("people:account")


class PaperCodes(paper.ViewRecoveryCodesView):
    template_name = "people/paper_codes.html"


class NewPaperCodes(Refused, paper.GenerateRecoveryCodesView):
    template_name = "people/new_paper_codes.html"
