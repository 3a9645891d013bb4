"""A database of its own in a folder that goes away, and people with sessions: nothing of the user's is ever touched."""

import os
import sys
import tempfile
from contextlib import contextmanager
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent


@contextmanager
def scratch():
    """Django set up over an empty, migrated database; call it once, before anything of the web is imported."""
    with tempfile.TemporaryDirectory() as folder:
        os.environ["IRON_RAKE_VAR"] = folder
        os.environ["DATABASE_URL"] = os.environ.get("ATTACK_DATABASE_URL", "")  # never the one that is in use
        os.environ["DJANGO_SETTINGS_MODULE"] = "web.config.settings"
        sys.path.insert(0, str(ROOT))
        import django
        from django.core.management import call_command

        django.setup()
        call_command("migrate", verbosity=0)
        call_command("collectstatic", interactive=False, verbosity=0)
        yield Path(folder)


def report(title: str, rows: list[tuple[str, object, object]]) -> bool:
    """Prints what was found beside what it must be; whether all of it is so."""
    print(title)
    for what, found, wanted in rows:
        print(f"  {'ok  ' if found == wanted else 'FAIL'} {what}: {found}" + ("" if found == wanted else f", not {wanted}"))
    return all(found == wanted for _, found, wanted in rows)
