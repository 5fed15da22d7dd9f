"""The table of misconceptions in the docs, cell by cell, against what there is to link to."""

import re
from pathlib import Path

import pytest

from valvetrain.drill import ABOUT, KINDS, Misconception
from valvetrain.grading.findings.kinds import Kind
from valvetrain.practice.slips import RemarkKind

ROOT = Path(__file__).parents[2]
DOCS = ROOT / "docs"
ROWS = {
    match[1]: line.strip("| ").split(" | ")
    for line in (DOCS / "misconceptions.md").read_text().splitlines()
    if (match := re.search(r"\(`([a-z-]+)`\)\.", line))
}


def links(cell):
    """(what is linked, where) of a cell; where is a file that is there."""
    found = re.findall(r"\[`([^`]+)`\]\(([^)]+)\)", cell)
    for _, where in found:
        assert (DOCS / where).exists(), where
    return found


@pytest.mark.parametrize("mistake", Misconception)
def test_every_cell_says_what_the_code_does_and_links_to_what_is_there(mistake):
    about = ABOUT[mistake]
    what, shown, asked, caught, cured = ROWS[mistake]
    assert f"**{about.label}**" in what
    assert what.endswith(about.says)
    ((address, _),) = links(shown)
    assert address == about.shown
    ((kind, module),) = links(asked)
    assert kind == about.asked
    assert f'"{kind}"' in (DOCS / module).resolve().read_text()
    ((finding, where),) = links(caught)
    assert finding == about.caught.value
    assert cured == about.cure
    # Caught on sheets: counted in docs/findings.md; in runs: a judge of its own.
    told = (DOCS / where).resolve().read_text()
    assert finding in told
    assert isinstance(about.caught, Kind | RemarkKind)


def test_there_is_no_row_too_many():
    assert set(ROWS) == {mistake.value for mistake in Misconception}


@pytest.mark.parametrize("mistake", Misconception)
def test_the_place_that_shows_it_is_a_place_of_the_application(mistake):
    routes = re.findall(r'path="([^"]+)"', (ROOT / "web" / "src" / "App.tsx").read_text())
    path, _, query = ABOUT[mistake].shown.partition("?")
    assert path.replace("{engine}", ":engineId") in routes
    if query:
        name, value = query.split("=")
        used = (ROOT / "web" / "src" / "bench" / "useBench.ts").read_text()
        assert f'get("{name}")' in used
        assert f'"{value}"' in used


def test_every_misconception_is_asked_by_a_question_of_the_list():
    assert {about.asked for about in ABOUT.values()} <= {kind.id for kind in KINDS}
