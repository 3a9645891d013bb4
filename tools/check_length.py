"""No function of the core is longer than fifty lines of code, its documentation aside: sum, working and words each have their own."""

import ast
import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
MOST = 50


def lengths(folder: Path) -> list[tuple[int, str]]:
    """Lines of every function under a folder, with where it stands."""
    found = []
    for path in folder.rglob("*.py"):
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef):
                first = node.body[0]
                said = isinstance(first, ast.Expr) and isinstance(first.value, ast.Constant) and isinstance(first.value.value, str)
                told = first.end_lineno - first.lineno + 1 if said else 0
                found.append((node.end_lineno - node.lineno + 1 - told, f"{path.relative_to(ROOT)}:{node.lineno}: {node.name}"))
    return found


def main() -> int:
    long = sorted(item for item in lengths(ROOT / "agronomy") if item[0] > MOST)
    for lines, where in long:
        print(f"{where} has {lines} lines; at most {MOST}: part it")
    return bool(long)


if __name__ == "__main__":
    sys.exit(main())
