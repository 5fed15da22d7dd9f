/** Paper sheets as they are typed: kept on this device until they are taken in. */

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ApiProblem, api, type Schemas, unwrap } from "../api/client";
import { keys } from "../api/keys";
import { type Unit, useUnit } from "../app/session";
import { useKept } from "../app/useKept";
import { type Cells, type Column, cellKey, columnsOf, fieldOf, sheetsOf } from "./paper";

const NOTHING: Cells = {};
export type Paper = ReturnType<typeof usePaper>;

export function usePaper(board: Schemas["BoardOut"], onSettled: () => void) {
  const [cells, setCells, forgetCells] = useKept(`edrix-paper-${board.id}`, NOTHING);
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
  const take = useTakePaper(board.id, notAsked, onSettled, forgetCells);
  const fields = take.error instanceof ApiProblem ? take.error.fields : [];
  const faults = new Map(fields.map((field) => [field.path, field.problem]));
  return {
    cells,
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
    isDone: take.isSuccess && Object.keys(cells).length === 0,
    type(studentId: number, column: Column, typed: string) {
      const key = cellKey(studentId, column);
      setCells(({ [key]: _, ...others }) => (typed === "" ? others : { ...others, [key]: typed }));
    },
    faultAt: (studentId: number, column: Column) =>
      faults.get(`student ${studentId}.valve ${column.valve}.${fieldOf(column)}`),
  };
}

/** What was not typed at all: neither marked nor missing. */
type NotAsked = NonNullable<Schemas["PaperIn"]["not_asked"]>;

function useTakePaper(
  sheetId: number,
  not_asked: NotAsked,
  onSettled: () => void,
  onTaken: () => void,
) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (sheets: Schemas["PaperSheetIn"][]) =>
      unwrap(
        api.POST("/api/sheets/{sheet_id}/paper", {
          params: { path: { sheet_id: sheetId } },
          body: { sheets, not_asked },
        }),
      ),
    onSuccess: () => {
      onTaken();
      queries.invalidateQueries({ queryKey: keys.sheet(sheetId) });
    },
    onSettled,
  });
}
