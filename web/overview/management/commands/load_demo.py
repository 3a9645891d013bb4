"""`manage.py load_demo`: the invented holdings Thornmere and Quillon Bend."""

from django.core.management.base import BaseCommand
from django.utils import timezone

from web.overview.demo.loading import load


class Command(BaseCommand):
    help = "Loads the invented holdings Thornmere and Quillon Bend, replacing their earlier selves."

    def handle(self, *args, **options) -> None:
        for person in load(timezone.localdate()):
            self.stdout.write(
                f"{person['holding']}: sign in as {person['email']} ({person['role']}) with the password {person['password']}"
            )
