"""What django-allauth says and does here: our words, wrong passwords counted by django-axes, safe places to go on to."""

from allauth.account.adapter import DefaultAccountAdapter
from allauth.mfa.adapter import DefaultMFAAdapter
from django.core.exceptions import ImproperlyConfigured, PermissionDenied

from web.query_params import leads_here

WAIT = "Too many tries. Wait some minutes, then try again."
# its notes by their template's name; what does not stand here needs no word
NOTES = {
    "account/messages/password_changed.txt": "Your password is changed. All other places are signed out.",
    "account/messages/email_confirmation_sent.txt": "A link is on its way to {email}.",
    "account/messages/email_confirmed.txt": "{email} is confirmed.",
    "account/messages/email_confirmation_failed.txt": "{email} belongs to another account. Nothing was changed.",
    "account/messages/email_deleted.txt": "{email} is no longer waited for.",
    "mfa/messages/totp_deactivated.txt": "No code is asked for any more when you sign in.",
}


class Adapter(DefaultAccountAdapter):
    """Accounts in our words."""

    error_messages = DefaultAccountAdapter.error_messages | {
        "email_password_mismatch": "Address and password do not fit together. Capitals count in the password.",
        "email_taken": "This address has signed up before. Sign in instead.",
        "duplicate_email": "This is your address already.",
        "enter_current_password": "This is not your password. Nothing was changed.",
        "incorrect_password": "This is not your password.",
        "too_many_login_attempts": WAIT,
        "rate_limited": WAIT,
    }

    def add_message(self, request, level, message_template=None, message_context=None, extra_tags="", message=None):
        told = message or NOTES.get(message_template or "", "").format(**(message_context or {}))
        if told:
            super().add_message(request, level, extra_tags=extra_tags, message=told)

    def pre_authenticate(self, request, **credentials) -> None:
        """Counts nothing: django-axes counts wrong passwords by account and address, so that nobody locks another out from afar."""

    def get_client_ip(self, request) -> str:
        """The address of whoever asks; what proxies say of it counts only for as many as the settings name."""
        try:
            return super().get_client_ip(request)
        except (ImproperlyConfigured, PermissionDenied):  # it came past the proxies, or by a socket without an address
            return request.META.get("REMOTE_ADDR") or "0.0.0.0"  # noqa: S104 -- none is known; nothing listens there

    def is_safe_url(self, url) -> bool:
        return leads_here(str(url or ""), self.request)


class CodesAdapter(DefaultMFAAdapter):
    """The second step in our words."""

    error_messages = DefaultMFAAdapter.error_messages | {
        "incorrect_code": "That code does not fit, or was used. Wait for the next one; look at the phone’s clock.",
        "unverified_email": "Confirm your address first.",
    }
