"""No style sheet reaches into another place: the classes that two places share are named apart.

Every style sheet of the application may be loaded at once, so a rule that begins with `.asked` in
one place also styles `.asked` in another. (CSS modules will make this test unnecessary.)
"""

import re
from collections import defaultdict
from collections.abc import Iterator
from pathlib import Path

from ops.paths import ROOT

WEB = ROOT / "web" / "src"
SHARED = {"app", "kit", "charts", "bench"}
"""Folders whose classes every place may use."""
CLASS = re.compile(r"\.([a-zA-Z_][\w-]*)")


def selectors(sheet: str) -> Iterator[str]:
    """Every selector of a style sheet, one of a list at a time."""
    plain = re.sub(r"/\*.*?\*/", "", sheet, flags=re.S)
    for match in re.finditer(r"([^{};]*)\{", plain):
        listed = match[1].strip()
        if listed and not listed.startswith("@"):
            yield from re.split(r",(?![^(]*\))", listed)


def leading(selector: str) -> set[str]:
    """The classes of its first compound that has any, of a lone class or several together."""
    for compound in re.split(r"[\s>+~]+(?![^(]*\))", selector.strip()):
        found = {name for name in CLASS.findall(compound) if not name.startswith("ant-")}
        if found:
            return found
    return set()


def leaders() -> dict[str, set[str]]:
    """The folders in whose style sheets a class begins a selector by itself."""
    found = defaultdict(set)
    for path in WEB.rglob("*.css"):
        if not path.name.endswith(".module.css"):
            for selector in selectors(path.read_text()):
                if len(names := leading(selector)) == 1:
                    found[names.pop()].add(path.parent.name)
    return found


def used() -> Iterator[tuple[str, Path]]:
    """Every class that a component names, with its file."""
    for path in WEB.rglob("*.tsx"):
        if ".test." in path.name:
            continue
        for match in re.finditer(r'className=(?:"([^"]*)"|\{([^}]*)\})', path.read_text()):
            words = match[1] or " ".join(re.findall(r'["`]([^"`]*)["`]', match[2] or ""))
            for name in words.split():
                yield name, path


def test_no_class_begins_rules_of_two_places():
    assert {name: folders for name, folders in leaders().items() if len(folders) > 1} == {}


def test_no_place_uses_a_class_that_another_place_styles():
    """Unless it shows that place's own parts, and so imports them."""
    owner = {name: folders for name, folders in leaders().items() if not folders & SHARED}
    imports = defaultdict(set)
    for path in WEB.rglob("*.tsx"):
        imports[path.parent.name] |= set(re.findall(r'from "\.\./(\w+)/', path.read_text()))
    strangers = {
        f"{path.parent.name}/{path.name}: {name} of {folder}"
        for name, path in used()
        for folder in owner.get(name, ())
        if folder != path.parent.name and folder not in imports[path.parent.name]
    }
    assert strangers == set()


def test_the_reading_of_sheets_finds_what_once_went_wrong():
    sheet = ".asked { top: 0 } .a .asked, b > .c:is(.d, .e) {}"
    found = [leading(one) for one in selectors(sheet)]
    assert found == [{"asked"}, {"a"}, {"c", "d", "e"}]
