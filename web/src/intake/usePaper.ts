/** Paper sheets as they are typed: kept here and on the server until they are taken in. */

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ApiProblem, api, type Schemas, unwrap } from "../api/client";
import { keys } from "../api/keys";
import { type Unit, useUnit } from "../app/session";
import { useLongForm } from "../app/useLongForm";
import { type Cells, type Column, cellKey, columnsOf, fieldOf, sheetsOf } from "./paper";

const NOTHING: Cells = {};
export type Paper = ReturnType<typeof usePaper>;

export function usePaper(board: Schemas["BoardOut"], onSettled: () => void) {
  const form = useLongForm(`paper-${board.id}`, NOTHING);
  const { typed: cells, change: setCells } = form;
  const [unit, setUnit] = useState<Unit>(useUnit());
  const [stops, setStops] = useState(false);
  const [verdicts, setVerdicts] = useState(false);
  const [more, setMore] = useState(false);
  const students = board.rows.filter((row) => row.hand_in_id === null);
  const columns = columnsOf(board.valve_numbers, {
    stops,
    verdicts,
    further: more ? board.columns : [],
  });
  const ids = students.map((student) => student.student_id);
  const notAsked: NotAsked = [
    ...(stops ? [] : ["crank_deg" as const]),
    ...(verdicts ? [] : ["verdict" as const]),
  ];
  const take = useTakePaper(board.id, notAsked, onSettled, form.forget);
  const fields = take.error instanceof ApiProblem ? take.error.fields : [];
  const faults = new Map(fields.map((field) => [field.path, field.problem]));
  return {
    cells,
    clashes: form.clashes,
    choose: form.choose,
    /** Whose cell it is, as people say it. */
    nameOf: (key: string) => nameOfCell(key, board),
    unit,
    setUnit,
    stops,
    setStops,
    verdicts,
    setVerdicts,
    /** Whether the further columns are typed, too. */
    more,
    setMore,
    students,
    columns,
    sheets: sheetsOf(cells, ids, columns, unit, board.stops),
    take,
    /** Whether some figures look like slips; each is asked about at its cell. */
    asks: take.error instanceof ApiProblem && take.error.confirm,
    isDone: take.isSuccess && Object.keys(cells).length === 0,
    type(studentId: number, column: Column, typed: string) {
      const key = cellKey(studentId, column);
      setCells(({ [key]: _, ...others }) => (typed === "" ? others : { ...others, [key]: typed }));
    },
    faultAt: (studentId: number, column: Column) =>
      faults.get(`student ${studentId}.valve ${column.valve}.${fieldOf(column)}`),
  };
}

function nameOfCell(key: string, board: Schemas["BoardOut"]): string {
  const [student, valve, ...field] = key.split("-");
  const who = board.rows.find((row) => String(row.student_id) === student)?.display_name ?? "";
  const name = field.join("-");
  const column = board.columns.find((one) => one.name === name)?.title ?? name;
  return `${who}, valve ${valve}, ${name === "reading" ? "gap" : column}`;
}

/** What was not typed at all: neither marked nor missing. */
type NotAsked = NonNullable<Schemas["PaperIn"]["not_asked"]>;

type TakePaper = { sheets: Schemas["PaperSheetIn"][]; confirmed: boolean };

function useTakePaper(
  sheetId: number,
  not_asked: NotAsked,
  onSettled: () => void,
  onTaken: () => void,
) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ sheets, confirmed }: TakePaper) =>
      unwrap(
        api.POST("/api/sheets/{sheet_id}/paper", {
          params: { path: { sheet_id: sheetId } },
          body: { sheets, not_asked, confirmed },
        }),
      ),
    onSuccess: () => {
      onTaken();
      queries.invalidateQueries({ queryKey: keys.sheet(sheetId) });
    },
    onSettled,
  });
}
