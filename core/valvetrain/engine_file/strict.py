"""Fields that are none of ours: refused with the nearest known name, but kept where they say x_.

What may stand where is read off the schema, so that the two cannot differ.
"""

from collections.abc import Iterator
from typing import Any

from valvetrain.document import Node
from valvetrain.engine import Extra

Schema = dict[str, Any]
OTHERS = "x_"
"""Names that begin so are somebody else's."""


def read_extras(root: Node, schema: Schema) -> tuple[Extra, ...]:
    """Every field of others, wherever it stands. Notes a fault for each field that is nobody's."""
    return tuple(_walk(root, schema, ()))


def write_extras(document: Any, extras: tuple[Extra, ...]) -> None:
    """Puts them back where they stood."""
    for place, value in extras:
        at = document
        for step in place[:-1]:
            at = at[step]
        at[place[-1]] = value


def _walk(node: Node, schema: Schema, place: tuple[str | int, ...]) -> Iterator[Extra]:
    if isinstance(node.value, list):
        for index, inside in enumerate(node.value):
            entry = Node(inside, f"{node.path}[{index}]", node.faults)
            yield from _walk(entry, schema.get("items", {}), (*place, index))
    if not isinstance(node.value, dict):
        return
    known = _properties(schema, node.value)
    if known is None:
        return
    for name, value in node.value.items():
        if name in known:
            yield from _walk(node[name], known[name], (*place, name))
        elif name.startswith(OTHERS):
            yield Extra((*place, name), value)
        elif name in _names(schema):
            there = ", ".join(other for other in node.value if other in known)
            node[name].fault(f"does not go with {there}; give one form or the other")
        else:
            node[name].fault(_unknown(name, known))


def _properties(schema: Schema, value: dict[str, Any]) -> dict[str, Schema] | None:
    """What may stand in this object; None where anything may.

    Of several forms it is held to the first that fits; one that fits none of them may have the
    fields of any."""
    forms = [form for form in schema.get("anyOf", [schema]) if "properties" in form]
    if not forms:
        return None
    fitting = next(([form] for form in forms if _fits(form, value)), forms)
    known: dict[str, Schema] = {}
    for form in fitting:
        for name, inside in form["properties"].items():
            known[name] = {"anyOf": [known[name], inside]} if name in known else inside
    return known


def _names(schema: Schema) -> set[str]:
    """Of any form."""
    forms = schema.get("anyOf", [schema])
    return {name for form in forms for name in form.get("properties", ())}


def _fits(form: Schema, value: dict[str, Any]) -> bool:
    """Whether it has all that the form requires and says its fixed words (`kind`)."""
    inside = form.get("properties", {})
    needed = form.get("required") or []
    if not needed and not any(name in value for name in inside):
        return not value
    return all(name in value for name in needed) and all(
        value.get(name) == part["const"] for name, part in inside.items() if "const" in part
    )


def _unknown(name: str, known: dict[str, Schema]) -> str:
    from difflib import get_close_matches  # Only a misspelt file needs it: calc starts sooner.

    near = get_close_matches(name.lower(), known, n=1, cutoff=0.6)
    if near:
        return f"is not known here; did you mean “{near[0]}”?"
    return f"is not known here; known are {', '.join(known)}, and names of your own in x_"
