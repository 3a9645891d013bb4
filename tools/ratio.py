"""Prints how many lines of tests, with their tables of cases, stand beside how many lines of code.

Python counts where it holds code: blank lines, comments and docstrings do not. In cases, templates, styles and scripts every line counts
that is not blank. Told twice: beside Python alone, and beside all that is code. Whole grounds with what an adviser expects, kept as JSON
documents, are data and are told apart.
"""

import ast
import subprocess
import tokenize
from pathlib import Path

NOT_CODE = {tokenize.COMMENT, tokenize.NL, tokenize.NEWLINE, tokenize.INDENT, tokenize.DEDENT, tokenize.ENCODING, tokenize.ENDMARKER}
CASES = (".toml", ".csv", ".jsonl")
FRONT = (".html", ".css", ".js")
WITHOUT = ("/vendor/", "/migrations/")


def docstring_lines(tree: ast.Module) -> set[int]:
    """The lines of strings that stand alone, which is what docstrings are."""
    alone = [node for node in ast.walk(tree) if isinstance(node, ast.Expr) and isinstance(node.value, ast.Constant)]
    return {
        line for node in alone if isinstance(node.value.value, str) for line in range(node.lineno, (node.end_lineno or node.lineno) + 1)
    }


def code_lines(path: Path) -> int:
    with tokenize.open(path) as file:
        text = file.read()
    held: set[int] = set()
    for token in tokenize.generate_tokens(iter(text.splitlines(keepends=True)).__next__):
        if token.type not in NOT_CODE:
            held.update(range(token.start[0], token.end[0] + 1))
    return len(held - docstring_lines(ast.parse(text)))


def filled_lines(path: Path) -> int:
    return sum(bool(line.strip()) for line in path.read_text(encoding="utf-8").splitlines())


def main() -> None:
    asked = ["git", "ls-files", "--cached", "--others", "--exclude-standard"]
    listed = subprocess.run(asked, check=True, capture_output=True, text=True).stdout.split("\n")
    paths = [Path(name) for name in listed if name and not any(part in f"/{name}" for part in WITHOUT)]
    paths = [path for path in paths if path.is_file()]
    of_tests = [path for path in paths if path.parts[0] == "tests"]
    of_code = [path for path in paths if path.parts[0] != "tests"]
    tests = sum(code_lines(path) for path in of_tests if path.suffix == ".py")
    cases = sum(filled_lines(path) for path in of_tests if path.suffix in CASES)
    documents = [filled_lines(path) for path in of_tests if path.suffix == ".json"]
    python = sum(code_lines(path) for path in of_code if path.suffix == ".py")
    front = sum(filled_lines(path) for path in of_code if path.suffix in FRONT)
    print(f"{tests} lines of tests and {cases} of their cases beside {python} lines of Python: {(tests + cases) / python:.0%}")
    print(f"With {front} lines of templates, styles and scripts counted as code: {(tests + cases) / (python + front):.0%}")
    print(f"Not counted: {len(documents)} documents of whole grounds, {sum(documents)} lines.")


if __name__ == "__main__":
    main()
