"""For somebody who lost phone and paper: asks for no code any more, once whoever runs the machine is sure who asks."""

from allauth.mfa.models import Authenticator
from django.core.management.base import BaseCommand, CommandError

from web.people.models import User


class Command(BaseCommand):
    help = "Takes the second step at sign-in away from one account: drop_second_step somebody@rake.example"

    def add_arguments(self, parser):
        parser.add_argument("email")

    def handle(self, *, email: str, **_):
        user = User.objects.filter(email=email.strip().lower()).first()
        if user is None:
            raise CommandError(f"{email} has no account here. Look how it is written.")
        gone, _ = Authenticator.objects.filter(user=user).delete()
        self.stdout.write(f"{user.email}: " + ("no code is asked for any more" if gone else "no code was asked for"))
