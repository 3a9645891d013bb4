"""The secret key: from the environment, or made once and kept in a file only its owner can read."""

import os
import secrets
from pathlib import Path


def secret_key(folder: Path) -> str:
    """IRON_RAKE_SECRET_KEY, or the content of `folder`/secret_key, made with mode 600 where it is missing."""
    given = os.environ.get("IRON_RAKE_SECRET_KEY")
    if given:
        return given
    path = folder / "secret_key"
    folder.mkdir(parents=True, exist_ok=True)
    try:
        handle = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
    except FileExistsError:
        return path.read_text(encoding="ascii").strip()
    with os.fdopen(handle, "w", encoding="ascii") as file:
        key = secrets.token_urlsafe(64)
        file.write(key)
    return key
