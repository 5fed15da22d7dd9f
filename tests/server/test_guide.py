"""The guides: printed from the texts that Help shows, and true to what is there."""

import io
import re
from pathlib import Path

import pytest
from pypdf import PdfReader

from edrix.reports.guide_pages import GUIDES, pictures
from valvetrain.glossary import TERMS

WHOSE = ("students", "instructors")
ROOT = Path(__file__).parents[2]
WEB = ROOT / "web" / "src"


@pytest.mark.parametrize("whose", WHOSE)
def test_a_booklet_has_every_page_picture_and_word(browsers, whose):
    answer = browsers["student"].get(f"/api/guide/{whose}.pdf")
    assert answer.status_code == 200
    assert answer["Content-Type"] == "application/pdf"
    printed = PdfReader(io.BytesIO(answer.content))
    said = " ".join(" ".join(page.extract_text() for page in printed.pages).split())
    for heading in re.findall(r"^#+ (.+)$", (GUIDES / f"{whose}.md").read_text(), re.MULTILINE):
        assert heading in said
    for term in TERMS:
        assert term.means in said
    assert "maker's manual" in said
    shown = sum(len(page.images) for page in printed.pages)
    assert shown == len(pictures(whose)) > 3


@pytest.mark.parametrize("whose", WHOSE)
def test_its_pictures_are_there(whose):
    assert [str(file) for file in pictures(whose) if not file.exists()] == []


def test_it_is_no_book(client, db):
    """Short enough to be read before a lesson: ten minutes at 230 words each, as people read."""
    for whose in WHOSE:
        assert len((GUIDES / f"{whose}.md").read_text().split()) < 2300
    assert client.get("/api/guide/students.pdf").status_code == 401
    assert client.get("/api/guide/others.pdf").status_code in (401, 404, 422)


def test_each_page_of_the_application_leads_to_a_page_of_the_guide():
    """The addresses in App.tsx, each against helpOf.ts, as the browser would match them."""
    leads = (WEB / "app" / "helpOf.ts").read_text()
    slugs = {
        whose: {
            re.sub(r"[^a-z0-9]+", "-", title.lower()).strip("-")
            for title in re.findall(r"^## (.+)$", (GUIDES / f"{whose}.md").read_text(), re.M)
        }
        for whose in WHOSE
    }
    routes = re.findall(r'path="(/[^"*]*)"', (WEB / "App.tsx").read_text())
    places = [re.sub(r":\w+\??", "1", route) for route in routes if route not in ("/",)]
    assert len(places) > 30
    for name, whose in (("STUDENTS", "students"), ("INSTRUCTORS", "instructors")):
        table = re.search(rf"const {name}.*?\];", leads, re.DOTALL)[0]
        found = re.findall(r'\[/(.+)/, "([\w-]+)"\]', table)
        assert {slug for _, slug in found} <= slugs[whose]
        if whose == "instructors":
            led = [re.compile(pattern.replace("\\/", "/")) for pattern, _ in found]
            for place in places:
                if not place.startswith("/help"):
                    assert any(one.search(place) for one in led), place


def test_what_is_called_by_name_in_the_guide_is_on_a_page():
    """Words in italics are names of things on the screen."""
    told = [
        *(file for file in WEB.rglob("*.ts*") if ".test." not in file.name),
        *(ROOT / "core").rglob("*.py"),
        *(ROOT / "demo").rglob("*.json"),
    ]
    screens = re.sub(r"\s+", " ", " ".join(file.read_text() for file in told)).casefold()
    for whose in WHOSE:
        text = (GUIDES / f"{whose}.md").read_text()
        names = re.findall(r"(?<!\*)\*([^*\n]+)\*(?!\*)", text)
        missing = [name for name in names if name.casefold() not in screens]
        assert missing == [], whose
