"""What the house's rules say of its own code, where no tool of the trade holds it."""

import ast
import itertools
import re
from collections.abc import Iterator
from pathlib import Path

import pytest

from ops.paths import ROOT

SERVER = ROOT / "server" / "edrix"
CORE = ROOT / "core" / "valvetrain"
WEB = ROOT / "web" / "src"
MOST_ROUTE_LINES = 8
EDGE = re.compile(r"(api|signed_in|devices|rubric_api|files_api|schemas|rubric_schemas)$")


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


KIND_OF_FIGURE = re.compile(
    r"\b(exact|standard|derived|common\s+practice|from\s+memory|chosen|limit)\b", re.IGNORECASE
)
"""As `core/valvetrain/constants.py` explains them."""
NO_FIGURES = [
    "gauges.py: UNREACHED",
    "gauges.py: TOLERANCES",
    "glossary_drawings.py: WIDTH, HEIGHT",
    "glossary_drawings.py: HEEL_R, NOSE_R, NOSE_AT",
    "grading/findings/copied.py: NOT_WRITTEN",
    "grading/findings/lines.py: LINE_SCALES",
    "grading/findings/whole.py: THOU_PER_MM",
    "grading/findings/whole.py: RARE_BIAS",
    "grading/mark.py: EXACT",
    "grading/rubric.py: _MEASURED",
    "grading/rubric.py: _SAFE",
    "grading/rubric.py: _AS_WELL",
    "grading/rubric.py: _TEMPLATES",
    "manual.py: _NM_PER_UNIT",
    "practice/weighing.py: _ALL_ALIKE",
    "practice/weighing.py: RUN_TEMPLATES",
    "sequences/two_stop.py: STOPS_DEG",
    "shim_swap.py: MOVE",
    "shim_swap.py: HALF_STEP",
    "shim_swap.py: BUY",
    "shim_swap.py: OUT",
    "shim_swap.py: NO_GAP",
    "units.py: _MM_PER_UNIT",
]
"""Tables with words, expressions of figures, what a calculation counts in, and how a word's drawing
lies on its card."""
ROOMS_OF_FIGURES = ("constants.py", "fields.py", "angles.py")


def figures(tree: ast.Module) -> Iterator[tuple[str, str | None]]:
    """Module-level constants that are made of numbers alone, each with the words below it."""
    for node, below in itertools.zip_longest(tree.body, tree.body[1:]):
        if not isinstance(node, ast.Assign):
            continue
        names = [one.id for one in ast.walk(node.targets[0]) if isinstance(one, ast.Name)]
        number = any(
            isinstance(one, ast.Constant) and type(one.value) in (int, float)
            for one in ast.walk(node.value)
        )
        if number and all(name.lstrip("_").isupper() for name in names):
            words = below.value if isinstance(below, ast.Expr) else None
            yield ", ".join(names), words.value if isinstance(words, ast.Constant) else None


def test_figures_of_the_trade_stand_in_one_module_of_each_room_with_unit_and_kind():
    inside, outside = {}, []
    for path, tree in trees(CORE):
        for name, words in figures(tree):
            if path.name in ROOMS_OF_FIGURES:
                inside[f"{path.relative_to(CORE)}: {name}"] = words
            else:
                outside.append(f"{path.relative_to(CORE)}: {name}")
    assert len(inside) > 100
    assert [name for name, words in inside.items() if not words] == []
    for name, words in inside.items():
        # In practice a figure is common practice where nothing else is said; in findings a
        # heading says it for all below.
        told = name.startswith(("practice/", "grading/")) or KIND_OF_FIGURE.search(words or "")
        assert told, name
    assert outside == NO_FIGURES


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
