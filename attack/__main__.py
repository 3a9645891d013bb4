"""`make attack`: every part one after the other, each in a process of its own; stops with 1 where any of them finds something."""

import argparse
import subprocess
import sys
import time

from attack.place import ROOT

PARTS = {
    "core": ["attack.core"],
    "files": ["attack.files"],
    "races": ["attack.races", "--people", "16"],
    "kills": ["attack.kills"],
    "crowd": ["attack.crowd"],
    "older": ["attack.older"],
    "requests": ["pytest", "-q", "tests/web/test_mangled.py", "tests/web/test_bounds.py"],
    "strangers": ["pytest", "-q", "tests/web/test_roles.py", "tests/web/test_guard.py"],
    "backups": ["pytest", "-q", "tests/web/test_backup.py"],
    "archives": ["pytest", "-q", "tests/web/test_archive.py"],
    "patterns": ["pytest", "-q", "tests/agronomy/test_patterns.py"],
    "units": ["pytest", "-q", "tests/agronomy/test_units.py"],
}


def main() -> int:
    asked = argparse.ArgumentParser(description=__doc__)
    asked.add_argument("parts", nargs="*", choices=[*PARTS, []], help="which parts; all without any")
    failed = []
    for part in asked.parse_args().parts or PARTS:
        began = time.monotonic()
        print(f"== {part}", flush=True)
        done = subprocess.run([sys.executable, "-m", *PARTS[part]], cwd=ROOT, check=False)
        print(f"   {time.monotonic() - began:.0f} s", flush=True)
        failed += [part] if done.returncode else []
    print("found something: " + ", ".join(failed) if failed else "nothing found")
    return 1 if failed else 0


if __name__ == "__main__":
    sys.exit(main())
