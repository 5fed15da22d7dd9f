"""Readings in files: shown first, refused row by row with reasons, taken in whole or not at all."""

import csv
import io
import json
import threading
import time
import zipfile

import openpyxl
import pytest
from django.db import connection

from edrix.classes import roll
from edrix.jobs import services as jobs
from edrix.jobs.models import Job
from edrix.marking import handing_in
from edrix.marking.models import Marking
from edrix.reports.write import harmless
from edrix.sheets.models import HandIn, Reading
from edrix.stands import services as stands
from tests.server.conftest import right_lines, tick_the_lists, worked

HEAD = "student,valve,reading,unit,crank_deg,verdict\n"


def rows_of(name="Ines Falkner", unit="mm"):
    return "".join(
        f"{name},{line['valve']},{line['reading']},{unit},{line['crank_deg']},{line['verdict']}\n"
        for line in right_lines()
    )


def look(browsers, school, data, who="instructor"):
    data = data.encode() if isinstance(data, str) else data
    return browsers[who].send_file(f"/api/sheets/{school.sheet.id}/import/preview", data)


def take(browsers, school, data, digest, **fields):
    data = data.encode() if isinstance(data, str) else data
    path = f"/api/sheets/{school.sheet.id}/import"
    return worked(
        browsers["instructor"],
        browsers["instructor"].send_file(path, data, digest=digest, **fields),
    )


def told(answer):
    """Every problem of every refused row."""
    return [(row["row"], problem) for row in answer["refused"] for problem in row["problems"]]


def test_a_file_is_shown_and_then_taken_in_and_marked(school, browsers):
    data = HEAD + rows_of() + rows_of('"Hallgrim, Bo"')
    seen = look(browsers, school, data).json()
    assert [column["means"] for column in seen["columns"]][:3] == [
        "the student's name",
        "the valve's number",
        "the reading",
    ]
    assert (seen["rows"], seen["refused_rows"], seen["takes"]) == (16, 0, 2)
    assert not HandIn.objects.exists()
    answer = take(browsers, school, data, seen["digest"])
    assert answer.status_code == 201
    assert answer.json() == {"takes": 2}
    board = browsers["instructor"].get(f"/api/sheets/{school.sheet.id}/board").json()
    assert {row["points"] for row in board["rows"]} == {24}
    made = HandIn.objects.get(student=school.ines)
    assert made.entered_by == school.tove
    kept = made.readings.get(valve=3)
    assert (kept.typed, str(kept.reading_mm), kept.crank_deg) == ("0.19", "0.1900", 0.0)
    # The student sees it as any other hand-in.
    assert (
        browsers["student"].get(f"/api/sheets/{school.sheet.id}").json()["result"]["points"] == 24
    )


@pytest.mark.parametrize(
    ("heading", "cells", "asks"),
    [
        # 14 thou without a word of it: 14 mm was marked.
        ("reading", ["14", "10", "10", "14", "14", "10", "10", "14"], "did you mean thou?"),
        # Decimal commas in a file with commas: the reading is 0, and the rest became the stop.
        (
            "reading,stop",
            ["0,35", "0,25", "0,25", "0,35", "0,35", "0,25", "0,25", "0,35"],
            "no gap",
        ),
        ("reading", ["3.5", "2.5", "2.5", "3.5", "3.5", "2.5", "2.5", "3.5"], "decimal point"),
    ],
)
def test_no_readings_that_look_like_slips_are_marked_unasked(
    school, browsers, heading, cells, asks
):
    rows = "".join(f"Ines Falkner,{n},{cell}\n" for n, cell in enumerate(cells, start=1))
    data = f"student,valve,{heading}\n{rows}"
    seen = look(browsers, school, data).json()
    assert len(seen["doubts"]) == 8
    assert seen["doubts"][0]["who"] == "Ines Falkner, valve 1"
    assert all(asks in one["asks"] for one in seen["doubts"])
    refused = take(browsers, school, data, seen["digest"])
    assert refused.status_code == 422
    assert not HandIn.objects.exists()
    assert take(browsers, school, data, seen["digest"], confirmed="true").status_code == 201
    assert HandIn.objects.count() == 1


def test_readings_are_shown_as_they_are_understood(school, browsers):
    data = "student,valve,reading (thou)\nInes Falkner,1,14\nInes Falkner,2,0.25 mm\n"
    seen = look(browsers, school, data).json()
    assert seen["students"][0]["readings"] == "1: 14 thou, 2: 0.25 mm"
    assert seen["doubts"] == []


def test_who_asks_again_before_a_worker_is_through_has_the_same_work(school, browsers):
    """A page that was loaded again once had: "has changed since you looked"."""
    data = HEAD + rows_of()
    digest = look(browsers, school, data).json()["digest"]
    path = f"/api/sheets/{school.sheet.id}/import"
    asked = [browsers["instructor"].send_file(path, data.encode(), digest=digest) for _ in range(2)]
    assert asked[0].json()["id"] == asked[1].json()["id"]
    assert worked(browsers["instructor"], asked[1]).json() == {"takes": 1}
    assert HandIn.objects.count() == 1


def test_taken_in_is_what_handing_in_would_have_given(school, browsers):
    """The same lines by the student's hand and by file: the same readings and marks."""
    tick_the_lists(school, school.bo)
    browsers["classmate"].send(
        "POST",
        f"/api/sheets/{school.sheet.id}/hand-in",
        {"lines": right_lines(), "request_key": "first-click", "confirmed": True},
    )
    data = HEAD + rows_of()
    take(browsers, school, data, look(browsers, school, data).json()["digest"])
    one, other = HandIn.objects.order_by("student__sign_in_name")
    assert list(one.readings.order_by("valve").values_list("valve", "typed", "reading_mm")) == list(
        other.readings.order_by("valve").values_list("valve", "typed", "reading_mm")
    )
    assert one.markings.get().valves == other.markings.get().valves


BAD_ROWS = {
    "unknown valve": ("Ines Falkner,99,0.25,mm,0,within", "no such valve"),
    "valve that is no number": ("Ines Falkner,first,0.25,mm,0,within", "is no valve's number"),
    "a second line of a valve": ("Ines Falkner,1,0.25,mm,0,within", "stands twice"),
    "unknown student": ("Nobody Here,1,0.25,mm,0,within", "is no student of this class"),
    "student of another class": ("Suvi Arnholt,1,0.25,mm,0,within", "is no student of this class"),
    "no student": (",1,0.25,mm,0,within", "names no student"),
    "words for a reading": ("Bo Hallgrim,1,tight,mm,0,within", "is not a length"),
    "unknown unit": ("Bo Hallgrim,1,0.25,cm,0,within", "use mm or thou"),
    "unknown verdict": ("Bo Hallgrim,1,0.25,mm,0,fine", "say tight, within"),
    "a decimal comma between commas": ("Bo Hallgrim,1,0,25,mm,0,within", "put ; between"),
    "a formula": ('Bo Hallgrim,1,"=0.2+0.05",mm,0,within', "is a formula"),
    "a stop that is none": ("Bo Hallgrim,1,0.25,mm,top,within", "is no stop"),
    "an endless reading": (f"Bo Hallgrim,1,{'9' * 400},mm,0,within", "more than 300 characters"),
    "a negative gap": ("Bo Hallgrim,1,-0.25,mm,0,within", "outside a gap"),
}


@pytest.mark.parametrize(("row", "says"), BAD_ROWS.values(), ids=BAD_ROWS)
def test_a_bad_row_is_refused_with_its_reason(school, browsers, row, says):
    seen = look(browsers, school, HEAD + rows_of() + row + "\n").json()
    ((number, problem),) = [one for one in told(seen) if says in one[1]]
    assert number == 10, problem


def test_nothing_of_a_student_is_taken_while_a_row_is_refused(school, browsers):
    data = HEAD + rows_of() + rows_of("Bo Hallgrim").replace("0.25", "0.2x", 1)
    seen = look(browsers, school, data).json()
    left = {row["student"]: row["left_out"] for row in seen["students"]}
    assert left["Ines Falkner"] is None
    assert left["Bo Hallgrim"].startswith("a row is refused")
    assert take(browsers, school, data, seen["digest"]).json() == {"takes": 1}
    assert [made.student for made in HandIn.objects.all()] == [school.ines]


def test_missing_valves_are_told_and_count_as_blank(school, browsers):
    data = HEAD + "".join(rows_of().splitlines(keepends=True)[:6])
    seen = look(browsers, school, data).json()
    assert seen["students"][0]["missing"] == [7, 8]
    take(browsers, school, data, seen["digest"])
    assert Marking.objects.get().points == 18


def test_what_changed_since_the_look_is_refused(school, browsers):
    data = HEAD + rows_of() + rows_of("Bo Hallgrim")
    seen = look(browsers, school, data).json()
    tick_the_lists(school, school.bo)
    browsers["classmate"].send(
        "POST",
        f"/api/sheets/{school.sheet.id}/hand-in",
        {"lines": right_lines(), "request_key": "first-click", "confirmed": True},
    )
    answer = take(browsers, school, data, seen["digest"])
    assert answer.status_code == 422
    assert "has changed since you looked" in answer.json()["detail"]
    assert HandIn.objects.count() == 1
    again = look(browsers, school, data).json()
    left = {row["student"]: row["left_out"] for row in again["students"]}
    assert "handed this sheet in already" in left["Bo Hallgrim"]


@pytest.mark.django_db(transaction=True)
def test_progress_is_seen_on_the_way_and_who_stops_takes_nothing_in(school, browsers, monkeypatch):
    """Nobody else sees the first students before all are in; but how far it is, everybody."""
    monkeypatch.setattr(handing_in, "SHEETS_AT_ONCE", 1)
    monkeypatch.setattr(jobs, "LOOK_S", 0)
    data = HEAD + rows_of() + rows_of("Bo Hallgrim")
    digest = look(browsers, school, data).json()["digest"]
    seen = []
    real = jobs.Working.tell_meanwhile

    def look_elsewhere(job_id):
        seen.append(Job.objects.get(id=job_id).progress)
        connection.close()

    def told(working, **progress):
        real(working, **progress)
        elsewhere = threading.Thread(target=look_elsewhere, args=(working.job.id,))
        elsewhere.start()
        elsewhere.join()
        Job.objects.filter(id=working.job.id).update(stop_asked=True)

    monkeypatch.setattr(jobs.Working, "tell_meanwhile", told)
    answer = take(browsers, school, data, digest)
    assert seen == [{"done": 8, "of": 16}]
    assert answer.status_code == 422
    assert "nothing was taken in" in answer.json()["detail"]
    assert not HandIn.objects.exists()


def test_a_fault_of_ours_is_told(school, browsers, monkeypatch):
    data = HEAD + rows_of()
    digest = look(browsers, school, data).json()["digest"]
    monkeypatch.setattr(handing_in, "Markers", lambda *_: 1 / 0)
    answer = take(browsers, school, data, digest)
    assert "nothing was changed" in answer.json()["detail"]
    assert not HandIn.objects.exists()


@pytest.mark.django_db(transaction=True)
def test_all_or_nothing_where_somebody_is_quicker(school, browsers, monkeypatch):
    """Bo hands in after the look, before the write: the constraint refuses, and all is undone."""
    data = HEAD + rows_of() + rows_of("Bo Hallgrim")
    seen = look(browsers, school, data).json()
    real = handing_in.take

    def quicker(sheet):
        HandIn.objects.create(sheet=sheet, student=school.bo, request_key="quicker", key=sheet.key)
        connection.close()

    def slow(sheet, brought):
        elsewhere = threading.Thread(target=quicker, args=(sheet,))
        elsewhere.start()
        elsewhere.join()
        yield from real(sheet, brought)

    monkeypatch.setattr(handing_in, "take", slow)
    answer = take(browsers, school, data, seen["digest"])
    assert answer.status_code == 422
    assert "nothing was taken in" in answer.json()["detail"]
    assert not Reading.objects.exists()
    assert HandIn.objects.count() == 1


def test_decimal_commas_semicolons_and_thou(school, browsers):
    data = "Name;Valve No;Gap (thou);Stop\n" + "".join(
        f"Ines Falkner;{valve};{gap};{stop}\n"
        for valve, gap, stop in ((1, "13,5", "1"), (2, "0,25 mm", "stop 1"), (4, "14", "360°"))
    )
    seen = look(browsers, school, data).json()
    assert [column["unit"] for column in seen["columns"]] == [None, None, "thou", None]
    assert told(seen) == []
    take(browsers, school, data, seen["digest"])
    kept = {reading.valve: reading for reading in Reading.objects.all()}
    assert (str(kept[1].reading_mm), str(kept[2].reading_mm)) == ("0.3429", "0.2500")
    assert (kept[1].crank_deg, kept[2].crank_deg, kept[4].crank_deg) == (0.0, 0.0, 360.0)


def test_a_column_for_each_valve(school, browsers):
    data = "sign-in name,V1,V2,valve 3,Remarks\nines.falkner,0.34,0.25,,windy\n"
    seen = look(browsers, school, data).json()
    assert [column["means"] for column in seen["columns"]] == [
        "the student's sign-in name",
        "the reading of valve 1",
        "the reading of valve 2",
        "the reading of valve 3",
        None,
    ]
    assert seen["students"][0]["missing"] == [3, 4, 5, 6, 7, 8]


def workbook(change=lambda sheet: None):
    book = openpyxl.Workbook()
    sheet = book.active
    sheet.append(["student", "valve", "reading", "stop", "verdict"])
    for line in right_lines():
        sheet.append(
            [
                "Ines Falkner",
                line["valve"],
                float(line["reading"]),
                line["crank_deg"],
                line["verdict"],
            ]
        )
    change(sheet)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def test_a_workbook_is_read_like_a_csv(school, browsers):
    data = workbook()  # once: a workbook knows the second in which it was made
    seen = look(browsers, school, data).json()
    assert (seen["kind"], seen["takes"], told(seen)) == ("xlsx", 1, [])
    take(browsers, school, data, seen["digest"])
    assert Marking.objects.get().points == 24


@pytest.mark.parametrize("area", ["A1:XFD1048576", "B2:C20000", "A0:B", "&#65;1:C3"])
def test_one_line_that_merges_a_million_cells_is_refused_at_once(school, browsers, area):
    """Reading such a workbook makes every cell of the area: it is counted before."""
    book = openpyxl.Workbook()
    book.active.append(["student", "valve", "reading"])
    book.active.append(["Bo Hallgrim", 1, 0.25])
    book.active.merge_cells("D1:E2")
    out = io.BytesIO()
    book.save(out)
    bad = io.BytesIO()
    with zipfile.ZipFile(out) as whole, zipfile.ZipFile(bad, "w") as spoilt:
        for part in whole.namelist():
            spoilt.writestr(part, whole.read(part).replace(b"D1:E2", area.encode()))
    started = time.monotonic()
    path = f"/api/sheets/{school.sheet.id}/import/preview"
    answer = browsers["instructor"].send_file(path, bad.getvalue(), "class.xlsx")
    assert answer.status_code == 422
    assert "merged cells" in answer.json()["detail"]
    assert time.monotonic() - started < 5


def test_formulas_and_merged_cells_are_refused_and_never_run(school, browsers):
    def spoil(sheet):
        sheet["C3"] = "=0.2+0.05"
        sheet.merge_cells("B5:B6")

    seen = look(browsers, school, workbook(spoil)).json()
    problems = dict(told(seen))
    assert "is a formula; nothing is worked out here" in problems[3]
    assert "is merged with its neighbours" in problems[6]
    assert seen["takes"] == 0


def zipped(name, content):
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
        packed.writestr(name, content)
    return out.getvalue()


BAD_FILES = {
    "a zip of another program": (zipped("word/document.xml", "<a/>"), "a zip of another program"),
    "half a workbook": (workbook()[:900], "broken XLSX"),
    "a workbook with broken parts": (zipped("xl/workbook.xml", "<a"), "broken XLSX"),
    "a bomb": (zipped("xl/workbook.xml", b"0" * 90_000_000), "unpacks to far more"),
    "a picture": (b"\x89PNG\r\n\x00\x01", "neither CSV nor XLSX"),
    "nothing": (b"", "has no rows"),
    "a heading alone": (HEAD.encode(), "has no rows"),
    "no student": (b"valve,reading\n1,0.25\n", "has no column with the student"),
    "no reading": (b"student,valve\nInes Falkner,1\n", "has no column with the reading"),
    "an open quote": (b'student,valve,reading\n"Ines,1,0.25\n', "is no CSV from row"),
    "JSON of something else": (b'{"a": 1', "is not"),
}


@pytest.mark.parametrize(("data", "says"), BAD_FILES.values(), ids=BAD_FILES)
def test_files_that_are_nothing(school, browsers, data, says):
    answer = look(browsers, school, data)
    assert answer.status_code == 422
    assert says in answer.json()["detail"]


def test_another_engine_version_is_refused(school, browsers):
    head, row = "student,valve,reading,engine_version\n", "Ines Falkner,1,0.25,"
    assert told(look(browsers, school, head + row + "1\n").json()) == []
    ((_, problem),) = told(look(browsers, school, head + row + "2\n").json())
    assert "is of version 2 of the engine; the sheet's is 1" in problem


def test_two_of_one_name_need_sign_in_names(school, browsers):
    roll.add_students(school.tove, school.class_a, "Ines Falkner, ines.two")
    ((_, problem),) = {told(look(browsers, school, HEAD + rows_of()).json())[0]}
    assert "2 students are called" in problem
    assert look(browsers, school, HEAD + rows_of("ines.two")).json()["takes"] == 1


def test_letters_of_old_spreadsheets(school, browsers):
    roll.add_students(school.tove, school.class_a, "Åse Brækkel")
    seen = look(browsers, school, (HEAD + rows_of("Åse Brækkel")).encode("cp1252")).json()
    assert seen["takes"] == 1
    assert "Windows-1252" in seen["notes"][0]


@pytest.mark.parametrize("kind", ["csv", "xlsx"])
def test_what_is_handed_out_can_be_taken_in_again(school, browsers, kind):
    """Out of class A's sheet, into another sheet of the same stand: the same readings."""
    data = (
        "student,valve,reading,unit,second,final,shim_chosen,leave it\n"
        "Ines Falkner,1,0.34,mm,13.5 thou,0.35,2.55,the next size lands no better\n"
    )
    take(browsers, school, data, look(browsers, school, data).json()["digest"])
    tove = browsers["instructor"]
    out = tove.get(f"/api/sheets/{school.sheet.id}/readings.{kind}")
    assert f'filename="readings-sheet-{school.sheet.id}.{kind}"' in out["Content-Disposition"]
    body = {
        "stand_id": school.stand.id,
        "title": "Again",
        "method": "two-stop",
        "tolerance": "0.03",
    }
    school.sheet.id = tove.send("POST", f"/api/classes/{school.class_a}/sheets", body).json()["id"]
    seen = look(browsers, school, out.content).json()
    assert told(seen) == []
    take(browsers, school, out.content, seen["digest"])
    one, other = Reading.objects.order_by("id")
    for field in ("typed", "unit", "reading_mm", "crank_deg", "verdict", "further"):
        assert getattr(one, field) == getattr(other, field)
    assert other.further["leave"]["typed"] == "no-better"


def test_a_sheet_file_goes_out_and_in(school, browsers):
    data = HEAD + rows_of()
    take(browsers, school, data, look(browsers, school, data).json()["digest"])
    tove = browsers["instructor"]
    out = tove.get(f"/api/hand-ins/{HandIn.objects.get().id}/sheet.json").content
    body = {
        "stand_id": school.stand.id,
        "title": "Again",
        "method": "two-stop",
        "tolerance": "0.03",
    }
    school.sheet.id = tove.send("POST", f"/api/classes/{school.class_a}/sheets", body).json()["id"]
    seen = look(browsers, school, out).json()
    assert (seen["kind"], seen["takes"]) == ("edrix-sheet/1", 1)
    take(browsers, school, out, seen["digest"])
    assert {marking.points for marking in Marking.objects.all()} == {24}
    other = json.loads(out)
    other["engine"]["lift_mm"]["intake"] = 8.5
    ((_, problem),) = told(look(browsers, school, json.dumps([other])).json())
    assert "as another file or version has it" in problem
    broken = json.loads(out)
    broken["lines"][2]["reading"] = "abc"
    ((_, problem),) = told(look(browsers, school, json.dumps(broken)).json())
    assert problem.startswith("$.lines[2].reading")


def test_cells_that_a_spreadsheet_would_run_are_made_harmless(school, browsers):
    roll.add_students(school.tove, school.class_a, "=HYPERLINK(1) Ines, evil.ines")
    data = "sign_in_name,valve,reading\nevil.ines,1,0.25\n"
    take(browsers, school, data, look(browsers, school, data).json()["digest"])
    tove = browsers["instructor"]
    for name in ("readings.csv", "marks.csv", "grades.csv"):
        text = tove.get(f"/api/sheets/{school.sheet.id}/{name}").content.decode("utf-8-sig")
        assert next(csv.DictReader(io.StringIO(text)))["student"].startswith("'=HYPERLINK")
    book = openpyxl.load_workbook(
        io.BytesIO(tove.get(f"/api/sheets/{school.sheet.id}/marks.xlsx").content)
    )
    cell = book["Grades"]["A2"]
    assert (cell.data_type, cell.value[0]) == ("s", "'")
    # The others of the class have no grade yet.
    assert [row[3].value for row in book["Grades"].iter_rows(min_row=2)] == [0, None, None]
    marks = list(book["Marks"].iter_rows(min_row=1, values_only=True))
    assert len(marks) == 9
    reading = marks[1][marks[0].index("reading_mm")]
    assert reading == 0.25, "a number, not text"


@pytest.mark.parametrize("unseen", ["\u200b", "\ufeff", "\u2060\u200b", " "])
def test_a_formula_behind_a_letter_without_ink_is_one(school, browsers, unseen):
    """Some spreadsheet programs drop what has no ink, and run what is left."""
    data = f"student,valve,reading\nInes Falkner,1,{unseen}=0.25\n"
    ((_, problem),) = told(look(browsers, school, data).json())
    assert "is a formula" in problem
    assert harmless(f"{unseen}=1+1").startswith("'")
    assert harmless(f"{unseen}0.25") == f"{unseen}0.25"


def test_only_instructors_look_or_take(school, browsers):
    for who, status in (("student", 403), ("other instructor", 404), ("nobody", 401)):
        assert look(browsers, school, HEAD + rows_of(), who).status_code == status


@pytest.mark.parametrize(
    "written",
    [
        "Zoe\u0301 O’Brien",
        "ZOÉ O'BRIEN",
        "O`Brien, Zoé",
        "Zoe\u0301  O\u02bcBrien",
        "Ｚｏé O'Brien",
    ],
)
def test_a_name_is_known_however_a_program_writes_it(school, browsers, written):
    """40 of 48 rows with accents behind their letters were refused as unknown."""
    roll.add_students(school.tove, school.class_a, "Zoé O'Brien")
    data = f'student;valve;reading\n"{written}";1.0;0.30\n'
    seen = look(browsers, school, "sep=;\n" + data).json()
    assert told(seen) == []
    assert [one["student"] for one in seen["students"]] == ["Zoé O'Brien"]


class TestStops:
    """What a column of stops holds: their numbers, or crank degrees."""

    def stops_of(self, browsers, school, heading, *cells):
        rows = "".join(
            f"Ines Falkner,{valve},0.30,{cell}\n" for valve, cell in enumerate(cells, start=1)
        )
        seen = look(browsers, school, f"student,valve,reading,{heading}\n" + rows).json()
        if seen["refused"]:
            return told(seen)
        digest = seen["digest"]
        take(browsers, school, f"student,valve,reading,{heading}\n" + rows, digest)
        return list(Reading.objects.order_by("valve").values_list("crank_deg", flat=True))

    def test_numbers_of_stops(self, school, browsers):
        assert self.stops_of(browsers, school, "stop", "1", "2", "Stop 2") == [0.0, 360.0, 360.0]

    def test_crank_degrees_where_no_figure_is_a_stop_s_number(self, school, browsers):
        assert self.stops_of(browsers, school, "stop", "0", "360", "12") == [0.0, 360.0, 12.0]

    def test_degrees_that_say_so_beside_numbers(self, school, browsers):
        cells = ("1", "90°", '"12,5 deg"')
        assert self.stops_of(browsers, school, "stop", *cells) == [0.0, 90.0, 12.5]

    def test_a_number_that_no_stop_has_is_refused_beside_those_that_have(self, school, browsers):
        """It would be five crank degrees otherwise, and nobody would see it."""
        (refused,) = self.stops_of(browsers, school, "stop", "1", "5", "2")
        assert refused[0] == 3
        assert "“5” is no stop of this sheet, which has 1, 2" in refused[1]

    def test_a_blank_column_of_degrees_changes_nothing_of_the_stops(self, school, browsers):
        cells = ("1,", "2,", "2,")
        assert self.stops_of(browsers, school, "stop,crank deg", *cells) == [0.0, 360.0, 360.0]

    def test_a_decimal_comma(self, school, browsers):
        assert self.stops_of(browsers, school, "crank deg", '"12,5"') == [12.5]


class TestNotAsked:
    """A list of figures has no stops and no verdicts: they are neither marked nor missing."""

    def rows(self, *wrong):
        return "student,valve,reading\n" + "".join(
            f"Ines Falkner,{line['valve']},{'0.9' if line['valve'] in wrong else line['reading']}\n"
            for line in right_lines()
        )

    def test_a_file_of_figures(self, school, browsers):
        data = self.rows(4)
        seen = look(browsers, school, data).json()
        assert (
            "It has no stops and no verdicts: they are neither marked nor missing." in seen["notes"]
        )
        take(browsers, school, data, seen["digest"])
        made = HandIn.objects.get()
        assert made.not_asked == ["crank_deg", "verdict"]
        told = browsers["instructor"].get(f"/api/hand-ins/{made.id}").json()["result"]
        assert (told["points"], told["out_of"]) == (7, 8)
        assert told["grade"]["percent"] == 87.5
        assert {mark["part"] for mark in told["valves"][0]["marks"]} == {"reading"}
        # Re-marked by another key it is still a list of figures.
        stands.enter_key(
            school.tove,
            school.stand.id,
            [stands.TypedGap(line["valve"], line["reading"], "mm") for line in right_lines()],
        )
        path = f"/api/sheets/{school.sheet.id}/remark"
        assert browsers["instructor"].send("POST", path, {"key_number": 2}).status_code == 200
        assert [m.out_of for m in Marking.objects.order_by("id")] == [8, 8]

    def test_skills_count_nothing_that_was_not_asked(self, school, browsers):
        data = self.rows()
        take(browsers, school, data, look(browsers, school, data).json()["digest"])
        path = f"/api/classes/{school.class_a}/students/{school.ines.id}/progress"
        skills = {s["skill"]: s for s in browsers["instructor"].get(path).json()["skills"]}
        assert skills["place"]["state"] == "unseen"
        assert skills["measure"]["shares"] == [1.0]

    def test_where_one_student_has_verdicts_they_are_asked(self, school, browsers):
        data = HEAD + rows_of() + "Bo Hallgrim,1,0.30,mm,,\n"
        take(browsers, school, data, look(browsers, school, data).json()["digest"])
        assert {tuple(made.not_asked) for made in HandIn.objects.all()} == {()}

    def test_paper_without_stops(self, school, browsers):
        lines = [line | {"crank_deg": None} for line in right_lines()]
        body = {
            "sheets": [{"student_id": school.ines.id, "lines": lines}],
            "not_asked": ["crank_deg"],
        }
        path = f"/api/sheets/{school.sheet.id}/paper"
        assert browsers["instructor"].send("POST", path, body).status_code == 201
        assert [(m.points, m.out_of) for m in Marking.objects.all()] == [(16, 16)]
        body["not_asked"] = ["reading"]
        assert browsers["instructor"].send("POST", path, body).status_code == 422

    def test_a_sheet_file_says_what_it_asks(self, school, browsers):
        data = self.rows()
        take(browsers, school, data, look(browsers, school, data).json()["digest"])
        made = HandIn.objects.get()
        file = browsers["instructor"].get(f"/api/hand-ins/{made.id}/sheet.json")
        assert file.json()["asks"] == ["reading"]


class TestPaper:
    def send(self, browsers, school, by_student, who="instructor", **fields):
        sheets = [{"student_id": pk, "lines": lines} for pk, lines in by_student.items()]
        return browsers[who].send(
            "POST", f"/api/sheets/{school.sheet.id}/paper", {"sheets": sheets, **fields}
        )

    def test_figures_that_look_like_slips_are_asked_about(self, school, browsers):
        lines = [line | {"reading": "0"} for line in right_lines()]
        asked = self.send(browsers, school, {school.ines.id: lines})
        assert (asked.status_code, asked.json()["confirm"]) == (409, True)
        paths = [one["path"] for one in asked.json()["fields"]]
        assert paths[0] == f"student {school.ines.id}.valve 1.reading"
        assert len(paths) == 8
        assert not HandIn.objects.exists()
        taken = self.send(browsers, school, {school.ines.id: lines}, confirmed=True)
        assert taken.status_code == 201

    def test_two_sheets_of_paper_are_marked_like_any_other(self, school, browsers):
        answer = self.send(browsers, school, {school.ines.id: right_lines(), school.bo.id: []})
        assert (answer.status_code, answer.json()["taken"]) == (201, 2)
        assert [marking.points for marking in Marking.objects.order_by("-points")] == [24, 0]
        made = HandIn.objects.get(student=school.ines)
        told = browsers["instructor"].get(f"/api/hand-ins/{made.id}").json()
        assert told["entered_by"] == "Tove"

    def test_one_bad_cell_and_nothing_is_taken(self, school, browsers):
        bad = [right_lines()[0] | {"reading": "3x"}]
        answer = self.send(browsers, school, {school.ines.id: right_lines(), school.bo.id: bad})
        assert answer.status_code == 422
        (fault,) = answer.json()["fields"]
        assert fault["path"] == f"student {school.bo.id}.valve 1.reading"
        assert not HandIn.objects.exists()

    def test_strangers_and_nothing_are_refused(self, school, browsers):
        assert self.send(browsers, school, {}).status_code == 422
        assert self.send(browsers, school, {school.rolf.id: []}).status_code == 422
        assert not HandIn.objects.exists()

    def test_only_instructors_type_paper_in(self, school, browsers):
        sheets = {school.ines.id: right_lines()}
        for who, status in (("student", 403), ("other instructor", 404), ("nobody", 401)):
            assert self.send(browsers, school, sheets, who).status_code == status
