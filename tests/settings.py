"""Settings of the tests: those of the application, with a database of their own and plain static files."""

import os
import tempfile
from pathlib import Path

os.environ.setdefault("IRON_RAKE_VAR", tempfile.mkdtemp(prefix="iron-rake-test-"))

from web.config.settings import *  # noqa: F403 -- the folder must be named before the settings make their key in it
from web.config.settings import DATABASES, STORAGES, VAR

if DATABASES["default"]["ENGINE"].endswith("sqlite3"):
    DATABASES["default"]["TEST"] = {"NAME": Path(VAR) / "test.sqlite3"}
    # a test database need not outlive a power cut, and waiting for the disk is most of its making
    DATABASES["default"]["OPTIONS"]["init_command"] = "PRAGMA journal_mode=WAL; PRAGMA synchronous=OFF; PRAGMA foreign_keys=ON;"
STORAGES["staticfiles"] = {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"}
TASKS = {"default": {"BACKEND": "django_tasks.backends.immediate.ImmediateBackend"}}
PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]  # the tests guard nothing, and make a thousand accounts
(Path(VAR) / "static").mkdir(parents=True, exist_ok=True)
