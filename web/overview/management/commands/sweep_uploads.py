"""Takes files out of the storage that no row names any more."""

from datetime import timedelta

from django.core.management.base import BaseCommand
from django.utils import timezone

from web.storing import unnamed, uploads

KEPT = timedelta(days=31)  # as long as an undo may bring a row back


class Command(BaseCommand):
    help = "Takes files of people out of the storage that nothing names any more, and that are older than a month."

    def handle(self, *args, **options):
        storage, gone = uploads(), 0
        for address in unnamed():
            if storage is not None and storage.get_modified_time(address) < timezone.now() - KEPT:
                storage.delete(address)
                gone += 1
        self.stdout.write(f"{gone} files swept.")
