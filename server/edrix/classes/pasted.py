"""Reading a pasted class list: one student a line, from a spreadsheet or typed by hand.

Names come as people write them: `Tom Baker`, `Baker, Tom`, `Müller, Jürgen; juergen.m`, or in two
columns of a spreadsheet. What follows a name is a sign-in name where it looks like one: small
letters, or without blanks and with a dot, digit, dash or underscore. Otherwise it is the first name
of somebody whose family name stands before the comma.
"""

import re
from dataclasses import dataclass

from edrix.errors import FieldFault, InvalidError

MOST_LINES = 60
MOST_NAME = 120
_SIGN_IN_NAME = re.compile(r"[a-z0-9][a-z0-9._-]{1,58}[a-z0-9]")
_LOOKS_LIKE_ONE = re.compile(r"\S*[0-9._]\S*|[a-z0-9_-]+")
_FIRST = {"first name", "first", "given name", "forename"}
_FAMILY = {"family name", "last name", "surname", "family", "last"}
_HEADINGS = _FIRST | _FAMILY | {"name", "names", "student", "students", "sign-in name", "sign in"}


@dataclass(frozen=True, slots=True)
class Line:
    display_name: str
    sign_in_name: str | None
    """None where the list gives none and one is to be made from the name."""


@dataclass(frozen=True, slots=True)
class ReadLine:
    """One line of the list: who it is, or why it cannot be used."""

    number: int
    line: Line | None
    problem: str


def read_list(text: str) -> list[Line]:
    """Blank lines and a line of headings are skipped.

    All or nothing: raises InvalidError with a fault for every line that cannot be used.
    """
    read = read_lines(text)
    faults = [FieldFault(f"line {one.number}", one.problem) for one in read if one.problem]
    if len(read) > MOST_LINES:
        faults.append(
            FieldFault("list", f"has {len(read)} names; paste at most {MOST_LINES} at once")
        )
    if not read:
        faults.append(FieldFault("list", "is empty; write one name on each line"))
    if faults:
        told = "; ".join(f"{fault.path} {fault.problem}" for fault in faults[:3])
        raise InvalidError(f"Nobody was added: {told}.", faults)
    return [one.line for one in read if one.line is not None]


def read_lines(text: str) -> list[ReadLine]:
    """Every line as it would be taken, right or wrong."""
    read: list[ReadLine] = []
    seen: set[str] = set()
    family_first = False
    for number, raw in enumerate(text.splitlines(), start=1):
        cells = [" ".join(cell.split()) for cell in re.split(r"[;\t]", raw)]
        headings = [cell.casefold() for cell in cells if cell]
        if not headings:
            continue
        if not read and set(headings) <= _HEADINGS:
            family_first = headings[0] in _FAMILY
            continue
        line, problem = _read_line(cells, family_first)
        name = line.sign_in_name if line is not None else None
        if name in seen:
            line, problem = None, f"has {name}, which stands twice in the list"
        elif name is not None:
            seen.add(name)
        read.append(ReadLine(number, line, problem))
    return read


def _read_line(cells: list[str], family_first: bool) -> tuple[Line | None, str]:
    by_comma = [part.strip() for part in cells[0].split(",")]
    parts = [part for part in (*by_comma, *cells[1:]) if part]
    sign_in = parts.pop() if len(parts) > 1 and _LOOKS_LIKE_ONE.fullmatch(parts[-1]) else None
    if len(parts) > 2:
        return None, f"has {len(parts)} parts; give a name and, if you like, a sign-in name"
    if len(parts) == 2 and (len(by_comma) > 1 or family_first):
        parts.reverse()
    name = " ".join(parts)
    if not any(letter.isalpha() for letter in name):
        return None, "has no name in it"
    if len(name) > MOST_NAME:
        return None, f"has a name of {len(name)} characters; give at most {MOST_NAME}"
    if any(ord(letter) < 32 for letter in name):
        return None, "has control characters in it; give plain text"
    sign_in = sign_in.lower() if sign_in else None
    if sign_in is not None and not _SIGN_IN_NAME.fullmatch(sign_in):
        return None, (
            f"has the sign-in name “{sign_in[:30]}”; use 3 to 60 of a–z, 0–9, dot, dash, underscore"
        )
    return Line(name, sign_in), ""
