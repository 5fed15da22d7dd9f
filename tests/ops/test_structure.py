"""What the house's rules say of its own code, where no tool of the trade holds it."""

import ast
import re
from collections.abc import Iterator
from pathlib import Path

import pytest

from ops.paths import ROOT

SERVER = ROOT / "server" / "edrix"
CORE = ROOT / "core" / "valvetrain"
WEB = ROOT / "web" / "src"
MOST_ROUTE_LINES = 8
EDGE = re.compile(r"(api|rubric_api|files_api|schemas|rubric_schemas)$")


def trees(folder: Path) -> Iterator[tuple[Path, ast.Module]]:
    for path in sorted(folder.rglob("*.py")):
        if "migrations" not in path.parts:
            yield path, ast.parse(path.read_text())


def routes() -> Iterator[tuple[str, ast.FunctionDef]]:
    for path, tree in trees(SERVER):
        for node in tree.body:
            if isinstance(node, ast.FunctionDef) and any(
                "router." in ast.unparse(decorator) for decorator in node.decorator_list
            ):
                yield f"{path.parent.name}/{path.name}:{node.name}", node


def body_lines(function: ast.FunctionDef) -> int:
    body = function.body
    if ast.get_docstring(function) is not None:
        body = body[1:]
    return (body[-1].end_lineno or 0) - body[0].lineno + 1 if body else 0


def test_a_route_only_asks_a_service_and_shapes_the_answer():
    found = dict(routes())
    assert len(found) > 60
    long = {name: body_lines(node) for name, node in found.items()}
    assert {name: n for name, n in long.items() if n > MOST_ROUTE_LINES} == {}


def test_only_edges_know_django_s_requests():
    for path, tree in trees(SERVER):
        for node in ast.walk(tree):
            if isinstance(node, ast.ImportFrom) and node.module == "django.http":
                assert EDGE.search(path.stem) or path.parent == SERVER, path


def test_no_sql_is_written_by_hand():
    for path, tree in trees(SERVER):
        if path.name == "import_speed.py":
            continue  # It measures bare COPY, to compare: nobody's data goes that way.
        for node in ast.walk(tree):
            named = ast.unparse(node) if isinstance(node, ast.Attribute) else ""
            assert not named.endswith((".cursor", ".raw", ".extra")), (path, named)


@pytest.mark.parametrize("kind", ["ScrewAdjuster", "ShimAdjuster", "HydraulicAdjuster"])
def test_what_differs_by_adjuster_is_a_method_of_the_adjuster(kind):
    """Where code asks which kind it has, a new kind is forgotten."""
    for folder in (CORE, SERVER):
        for path, tree in trees(folder):
            for node in ast.walk(tree):
                if isinstance(node, ast.Call) and ast.unparse(node.func) == "isinstance":
                    assert kind not in ast.unparse(node), path


def test_query_keys_live_in_one_place():
    for path in WEB.rglob("*.ts*"):
        if path.name not in ("schema.d.ts", "keys.ts"):
            assert "queryKey: [" not in path.read_text(), path


def test_every_class_name_means_one_thing():
    """Within the core, and within the server: a name that stands twice is read as the wrong one."""
    for folder in (CORE, SERVER):
        seen: dict[str, Path] = {}
        for path, tree in trees(folder):
            for node in tree.body:
                # A private name is its module's own; every command of Django is called Command.
                if isinstance(node, ast.ClassDef) and not re.match(r"_|Command$", node.name):
                    assert node.name not in seen, (node.name, path, seen[node.name])
                    seen[node.name] = path


def test_every_constant_of_the_rules_means_one_thing():
    seen: dict[str, Path] = {}
    for path, tree in trees(CORE):
        for node in tree.body:
            for name in _figures(node):
                assert name not in seen, (name, path, seen[name])
                seen[name] = path


def _figures(node: ast.stmt) -> Iterator[str]:
    """Names in capitals that hold a figure with a unit."""
    if isinstance(node, ast.Assign) and isinstance(node.value, ast.Constant | ast.BinOp):
        for target in node.targets:
            if isinstance(target, ast.Name) and re.match(r"^[A-Z_]+_(MM|DEG|UM|TICKS)$", target.id):
                yield target.id
