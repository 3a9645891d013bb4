"""A forgotten password: a link by mail, good for an hour. Nobody is told whether an address has an account."""

from django.contrib.auth import views as auth
from django.contrib.auth.decorators import login_not_required
from django.shortcuts import redirect
from django.urls import path, reverse_lazy

from web.people.limits import is_too_often


class Forgotten(auth.PasswordResetView):
    """Sends the link, and answers the same whether the account is there or not."""

    template_name = "people/forgotten.html"
    email_template_name = "people/forgotten_mail.txt"
    subject_template_name = "people/forgotten_subject.txt"
    success_url = reverse_lazy("people:forgotten_sent")

    def form_valid(self, form):
        return redirect(self.success_url) if is_too_often(self.request, "mail") else super().form_valid(form)


sent = auth.PasswordResetDoneView.as_view(template_name="people/forgotten_sent.html")
again = auth.PasswordResetConfirmView.as_view(
    template_name="people/new_password.html", success_url=reverse_lazy("people:new_password_done")
)
done = auth.PasswordResetCompleteView.as_view(template_name="people/new_password_done.html")

urlpatterns = [
    path("forgotten/", login_not_required(Forgotten.as_view()), name="forgotten"),
    path("forgotten/sent/", login_not_required(sent), name="forgotten_sent"),
    path("forgotten/<str:uidb64>/<str:token>/", login_not_required(again), name="new_password"),
    path("forgotten/done/", login_not_required(done), name="new_password_done"),
]
