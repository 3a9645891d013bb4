"""No file that runs or is served may name an outside host: nothing is fetched at run time."""

import re
import subprocess
import sys
from pathlib import Path

SERVED = (".py", ".html", ".css", ".js", ".svg", ".toml", ".csv")
HOST = re.compile(r"(?:https?:|wss?:|src=[\"']|url\([\"']?)//([A-Za-z0-9.-]+)")
ALLOWED = {"127.0.0.1", "localhost", "www.w3.org", "testserver"}  # w3.org names namespaces of SVG, and is never fetched
# Vendored files carry their makers' addresses in comments and messages; none of them fetches anything (see web/static/vendor/README.md).
SKIPPED = ("/vendor/",)


def main() -> int:
    listed = subprocess.run(
        ["git", "ls-files", "--cached", "--others", "--exclude-standard"], check=True, capture_output=True, text=True
    ).stdout.split("\n")
    found = []
    for name in listed:
        if not name.endswith(SERVED) or any(part in name for part in SKIPPED) or not Path(name).exists():
            continue
        for number, line in enumerate(Path(name).read_text(encoding="utf-8").splitlines(), 1):
            found += [f"{name}:{number}: {host}" for host in HOST.findall(line) if host not in ALLOWED]
    print("\n".join(found), file=sys.stderr) if found else None
    return 1 if found else 0


if __name__ == "__main__":
    sys.exit(main())
