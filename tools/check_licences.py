"""Every vendored folder has its licence beside it and a row in its README."""

import sys
from pathlib import Path

VENDORED = Path("web/static/vendor")
TESTS = Path("tests/vendor")


def main() -> int:
    missing = []
    readme = (VENDORED / "README.md").read_text(encoding="utf-8")
    for folder in [path for root in (VENDORED, TESTS) for path in sorted(root.iterdir()) if path.is_dir()]:
        if not list(folder.glob("LICENSE*")):
            missing.append(f"{folder} has no LICENSE file")
        if folder.name not in readme:
            missing.append(f"{VENDORED / 'README.md'} says nothing of {folder.name}")
    for font in (VENDORED / "fonts").glob("*.woff2"):
        if not any(font.name.startswith(licence.name.removeprefix("LICENSE-")) for licence in (VENDORED / "fonts").glob("LICENSE-*")):
            missing.append(f"{font} has no licence of its family")
    print("\n".join(missing), file=sys.stderr) if missing else None
    return 1 if missing else 0


if __name__ == "__main__":
    sys.exit(main())
