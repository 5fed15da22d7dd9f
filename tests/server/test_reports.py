"""Printed pages: read back as text, as a person would read them."""

import csv
import io
import re
from datetime import UTC, datetime

import pypdf
import pytest

from edrix.classes import roll
from edrix.engines import services as engines
from edrix.marking import handing_in
from edrix.sheets.lines import TypedLine
from edrix.sheets.models import HandIn
from tests.core.conftest import engine_document
from tests.server.conftest import KEY_MM, right_lines
from tests.server.test_further_columns import SHIM


def text_of(answer):
    assert answer.status_code == 200
    assert answer["Content-Type"] == "application/pdf"
    pages = pypdf.PdfReader(io.BytesIO(answer.content)).pages
    words = [" ".join(page.extract_text().split()) for page in pages]
    # The foot is drawn first.
    return [re.sub(r"^.*? page [0-9]+ ", "", page) for page in words]


@pytest.fixture
def handed_in(school):
    lines = [line | ({"reading": "0.31"} if line["valve"] == 7 else {}) for line in right_lines()]
    return handing_in.hand_in(
        school.ines,
        school.sheet.id,
        [TypedLine(**line) for line in lines],
        request_key="k-12345678",
        confirmed=True,
    )


def test_a_marked_sheet_for_the_student_holds_no_figure_of_the_key(browsers, handed_in):
    tove = browsers["instructor"]
    (page,) = text_of(tove.get(f"/api/hand-ins/{handed_in.id}/sheet.pdf"))
    assert page.startswith("Ines Falkner First measuring: Stand 3")
    assert "22 of 24 marks" in page
    assert "✗ Reading: Reads larger than the reference" in page
    assert "91.7 %, passed" in page
    assert not [gap for gap in KEY_MM.values() if gap in page]


def test_the_instructors_copy_has_the_figures_and_decisions(browsers, handed_in):
    tove = browsers["instructor"]
    body = {"valve": 7, "part": "reading", "right": True, "reason": "The stand was warm."}
    tove.send("POST", f"/api/hand-ins/{handed_in.id}/decisions", body)
    page = " ".join(text_of(tove.get(f"/api/hand-ins/{handed_in.id}/sheet.pdf?whose=instructor")))
    assert "key 0.2517 mm: off by +0.0583 mm" in page
    assert "Decided by Tove: The stand was warm." in page


def test_a_worth_that_tells_the_key_is_not_on_the_students_copy(school, browsers, handed_in):
    tove = browsers["instructor"]
    rubric = {"items": [{"part": "reading", "weight": 1}], "zero_at_mm": 0.09}
    tove.send("POST", f"/api/sheets/{school.sheet.id}/rubric", {"rubric": rubric, "based_on": 0})
    path = f"/api/hand-ins/{handed_in.id}/sheet.pdf"
    assert "beyond it worth" not in text_of(tove.get(path))[0]
    assert " %," not in text_of(tove.get(path))[0]
    assert "beyond it worth" in text_of(tove.get(f"{path}?whose=instructor"))[0]
    tove.send("POST", f"/api/sheets/{school.sheet.id}/give-back", {})
    assert "beyond it worth" in text_of(tove.get(path))[0]


def test_the_class_report(school, browsers, handed_in):
    (page,) = text_of(browsers["instructor"].get(f"/api/sheets/{school.sheet.id}/report.pdf"))
    assert "1 of 2 handed in" in page
    assert "1 of 1 passed; 91.7 % on average" in page
    assert "Ines Falkner 22/24 91.7 % passed Reading 1, Verdict 1" in page
    assert "7: cyl. 4 intake" in page


def test_a_report_of_nothing_says_so(school, browsers):
    (page,) = text_of(browsers["instructor"].get(f"/api/sheets/{school.sheet.id}/report.pdf"))
    assert "Nobody has handed in yet." in page


def test_a_blank_sheet_for_each_student(school, browsers):
    pages = text_of(browsers["instructor"].get(f"/api/sheets/{school.sheet.id}/blank.pdf"))
    assert [page.split(" First measuring")[0] for page in pages] == ["Bo Hallgrim", "Ines Falkner"]
    assert "Stops: 1: 0°, 2: 360°." in pages[0]
    assert "1 cyl. 1 exhaust 0.32–0.38 mm (12.6–14.96 thou)" in pages[0]


def test_a_shim_table_for_everybody(school, browsers):
    version, _ = engines.add_engine(school.tove, engine_document([1, 3, 4, 2], adjuster=SHIM))
    pages = text_of(browsers["student"].get(f"/api/engines/{version.engine_id}/shims.pdf"))
    assert pages[0].startswith("Shims of Test engine")
    # 2.50 fitted, 0.36 measured, 0.25 wanted: 2.61, of which 2.60 is made.
    cells = next(
        rest.split()
        for first, last, rest in re.findall(
            r"(0\.\d{2})(?:–(0\.\d{2}))? (.*?)(?= 0\.\d{2}[– ]|$)", pages[0]
        )
        if float(first) <= 0.36 <= float(last or first)
    )
    assert cells[10] == "2.60"


def test_names_are_words_and_no_markup(school, browsers, handed_in):
    school.ines.display_name = "<b>Ines</b> & Ø. Żółć"
    school.ines.save()
    (page,) = text_of(browsers["instructor"].get(f"/api/hand-ins/{handed_in.id}/sheet.pdf"))
    assert page.startswith("<b>Ines</b> & Ø. Żółć")


def test_times_on_paper_and_in_files_are_the_schools(school, browsers, settings):
    """A summer's evening in Oslo is two hours before UTC (tz database, from memory)."""
    settings.TIME_ZONE = "Europe/Oslo"
    made = hand_in_of(school)
    at = datetime(2026, 7, 1, 22, 30, tzinfo=UTC)
    HandIn.objects.filter(id=made.id).update(handed_in_at=at)
    tove = browsers["instructor"]
    page = tove.get(f"/api/hand-ins/{made.id}/sheet.pdf").content
    text = "".join(one.extract_text() for one in pypdf.PdfReader(io.BytesIO(page)).pages)
    assert "2 July 2026, 00:30" in text.replace("\n", " ")
    grades = tove.get(f"/api/sheets/{school.sheet.id}/grades.csv").content.decode("utf-8-sig")
    assert "2026-07-02 00:30:00" in grades


def test_pages_are_set_in_our_typeface_with_letters_of_all_scripts(school, browsers):
    roll.add_students(school.tove, school.class_a, "Łucja Żak\nАнна Петрова")
    page = browsers["instructor"].get(f"/api/sheets/{school.sheet.id}/blank.pdf").content
    reader = pypdf.PdfReader(io.BytesIO(page))
    text = "".join(one.extract_text() for one in reader.pages)
    assert "Łucja Żak" in text
    assert "Анна Петрова" in text
    fonts = {
        font.get_object()["/BaseFont"].split("+")[-1]
        for one in reader.pages
        for font in one["/Resources"]["/Font"].values()
    }
    assert {"Barlow-Regular", "DejaVuSans"} <= {name.removesuffix("+") for name in fonts}


def test_figures_in_files_are_as_people_write_them(school, browsers):
    hand_in_of(school)
    marks = browsers["instructor"].get(f"/api/sheets/{school.sheet.id}/marks.csv").content
    rows = list(csv.DictReader(io.StringIO(marks.decode("utf-8-sig"))))
    assert [row["reading_mm"] for row in rows[:3]] == ["0.35", "0.25", "0.19"]


def hand_in_of(school):
    lines = [TypedLine(**line) for line in right_lines()]
    return handing_in.hand_in(
        school.ines, school.sheet.id, lines, request_key="k-12345678", confirmed=True
    )
