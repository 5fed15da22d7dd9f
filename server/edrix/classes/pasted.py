"""Reading a pasted class list: one student a line, from a spreadsheet or typed by hand."""

import re
from dataclasses import dataclass

from edrix.errors import FieldFault, InvalidError

MOST_LINES = 60
MOST_NAME = 120
_SIGN_IN_NAME = re.compile(r"[a-z0-9][a-z0-9._-]{1,58}[a-z0-9]")


@dataclass(frozen=True, slots=True)
class Line:
    display_name: str
    sign_in_name: str | None
    """None where the list gives none and one is to be made from the name."""


def read_list(text: str) -> list[Line]:
    """Lines of `Name` or `Name, sign-in name` (comma, semicolon or tab); blank ones are skipped.

    All or nothing: raises InvalidError with a fault for every line that cannot be used.
    """
    faults: list[FieldFault] = []
    lines: list[Line] = []
    seen: set[str] = set()
    for number, raw in enumerate(text.splitlines(), start=1):
        if not raw.strip():
            continue
        line, problem = _read_line(raw)
        if line is not None and line.sign_in_name in seen:
            problem = f"the sign-in name {line.sign_in_name} stands twice in the list"
        if problem or line is None:
            faults.append(FieldFault(f"line {number}", problem))
            continue
        if line.sign_in_name:
            seen.add(line.sign_in_name)
        lines.append(line)
    if len(lines) > MOST_LINES:
        faults.append(
            FieldFault("list", f"has {len(lines)} names; paste at most {MOST_LINES} at once")
        )
    if not lines and not faults:
        faults.append(FieldFault("list", "is empty; write one name on each line"))
    if faults:
        told = "; ".join(f"{fault.path} {fault.problem}" for fault in faults[:3])
        raise InvalidError(f"Nobody was added: {told}.", faults)
    return lines


def _read_line(raw: str) -> tuple[Line | None, str]:
    parts = [part.strip() for part in re.split(r"[,;\t]", raw)]
    name, *rest = parts
    name = " ".join(name.split())
    if len(rest) > 1 and any(rest[1:]):
        return None, f"has {len(parts)} columns; give a name and, if you like, a sign-in name"
    if not any(letter.isalpha() for letter in name):
        return None, "has no name in its first column"
    if len(name) > MOST_NAME:
        return None, f"has a name of {len(name)} characters; give at most {MOST_NAME}"
    if any(ord(letter) < 32 for letter in name):
        return None, "has control characters in it; give plain text"
    sign_in = rest[0].lower() if rest and rest[0] else None
    if sign_in is not None and not _SIGN_IN_NAME.fullmatch(sign_in):
        return None, (
            f"has the sign-in name “{sign_in[:30]}”; use 3 to 60 of a–z, 0–9, dot, dash, underscore"
        )
    return Line(name, sign_in), ""
