"""Short IDs for samples that survive a wet bag, bad handwriting and a laboratory's spreadsheet."""

import re

from agronomy.base.errors import RuleError

# No letter or digit that is taken for another: no I, L, O, Q, U, V, 0, 1, 2, 5, 8, B, S, Z.
ALPHABET = "3467ACDEFGHJKMNPRTWXY"
LENGTH = 4
MOST = len(ALPHABET) ** (LENGTH - 1)
_WEIGHTS = (2, 4, 5)


def code(number: int) -> str:
    """The ID for the number-th sample of a holding: three letters and a check letter. Source: own-experience.

    No unit but the number [1].

    >>> code(0), code(1), code(500)
    ('3334', '334D', '46TK')
    """
    if not 0 <= number < MOST:
        raise RuleError("sample", number, f"there are IDs for {MOST} samples", "begin a new holding, or take old rounds out")
    base, digits = len(ALPHABET), []
    for _ in range(LENGTH - 1):
        number, digit = divmod(number, base)
        digits.append(digit)
    digits = digits[::-1]
    return "".join(ALPHABET[digit] for digit in digits) + ALPHABET[_check(digits)]


def _check(digits: list[int]) -> int:
    # no weight shares a factor with 21, and no two neighbours differ by one that does: any wrong letter and any two neighbours swapped are
    # noticed
    return (sum(weight * digit for weight, digit in zip(_WEIGHTS, digits, strict=True)) + 1) % len(ALPHABET)


def code_in(text: str) -> str | None:
    """The ID hidden in what a laboratory wrote ("TM-46tk / bed 7"), or None; a wrong check letter is no ID.

    >>> code_in("TM-3334 / bed 7")
    '3334'
    """
    for found in re.findall(rf"(?<![A-Z0-9])([{ALPHABET}]{{{LENGTH}}})(?![A-Z0-9])", text.upper()):
        digits = [ALPHABET.index(letter) for letter in found]
        if _check(digits[:-1]) == digits[-1]:
            return found
    return None
