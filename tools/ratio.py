"""Prints how many lines of tests stand beside how many lines of code (blank lines and data not counted)."""

import subprocess
from pathlib import Path

CODE = (".py", ".html", ".css", ".js", ".sh")


def lines(names: list[str]) -> int:
    return sum(sum(bool(line.strip()) for line in Path(name).read_text(encoding="utf-8").splitlines()) for name in names)


def main() -> None:
    listed = subprocess.run(
        ["git", "ls-files", "--cached", "--others", "--exclude-standard"], check=True, capture_output=True, text=True
    ).stdout.split("\n")
    files = [
        name for name in listed if name.endswith(CODE) and "/vendor/" not in name and "/migrations/" not in name and Path(name).exists()
    ]
    tests = lines([name for name in files if name.startswith("tests/")])
    code = lines([name for name in files if not name.startswith("tests/")])
    print(f"{tests} lines of tests beside {code} lines of code: {tests / code:.0%}")


if __name__ == "__main__":
    main()
