/** A sheet being filled in: its draft, handing it in, and what is asked or refused on the way. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { flushSync } from "react-dom";
import { isAway } from "../api/again";
import { ApiProblem, api, type Field, type Schemas, unwrap } from "../api/client";
import { sheetQuery, workQuery } from "../api/queries";
import { usePerson, useUnit } from "../app/session";
import { type Draft, useDraft } from "./draft";
import { isBegun } from "./lines";
import { usePressed } from "./usePressed";

type Sheet = Schemas["SheetOut"];

export function useFilling(sheet: Sheet) {
  const person = usePerson();
  const unit = useUnit();
  const numbers = sheet.valves.map((valve) => valve.number);
  const queries = useQueryClient();
  const { queryKey } = sheetQuery(sheet.id);
  const draft = useDraft(sheet.id, person.id, numbers, sheet.draft, unit, {
    isOld: useIsOld(sheet.id),
    // Whoever comes back to this sheet finds what was written.
    onSaved: (lines) => queries.setQueryData(queryKey, (now) => now && { ...now, draft: lines }),
  });
  const [questions, setQuestions] = useState<readonly Field[]>([]);
  const form = useRef<HTMLDivElement>(null);
  const handIn = useHandIn(sheet, draft, setQuestions);
  const waits = usePressed(person.id).includes(sheet.id);
  const problem = shownOf(handIn.error);
  useEffect(() => {
    if (problem) focusFault(form.current);
  }, [problem]);
  return {
    ...{ unit, draft, questions, form, handIn, waits, problem },
    /** Back from the questions, to the first valve that was asked about. */
    lookAgain() {
      const first = questions[0];
      // The dialog is shut before a field gets the focus: open, it would keep it.
      flushSync(() => setQuestions([]));
      if (first) focusValve(form.current, first.path);
    },
  };
}

/** So long what the server told of a sheet is taken for what stands there now. */
const FRESH_MS = 2000;

/** Whether a sheet was told a while ago: kept on this device, or before another page was opened. */
function useIsOld(sheetId: number): boolean {
  const queries = useQueryClient();
  const [isOld] = useState(() => {
    const told = queries.getQueryState(sheetQuery(sheetId).queryKey)?.dataUpdatedAt ?? 0;
    return told < performance.timeOrigin || Date.now() - told > FRESH_MS;
  });
  return isOld;
}

/** What is asked is a question, and what waits goes by itself: neither is a fault. */
function shownOf(error: Error | null): ApiProblem | null {
  return error instanceof ApiProblem && !error.confirm && !isAway(error) ? error : null;
}

function useHandIn(sheet: Sheet, draft: Draft, onAsked: (questions: readonly Field[]) => void) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (confirmed: boolean) =>
      unwrap(
        api.POST("/api/sheets/{sheet_id}/hand-in", {
          params: { path: { sheet_id: sheet.id } },
          body: { lines: draft.lines.filter(isBegun), request_key: draft.requestKey, confirmed },
        }),
      ),
    onSuccess: (result) => {
      draft.done();
      onAsked([]);
      queries.setQueryData(sheetQuery(sheet.id).queryKey, { ...sheet, result });
      queries.invalidateQueries(workQuery);
      window.scrollTo({ top: 0 });
    },
    onError: (error, confirmed) => {
      if (isAway(error)) draft.keepHandIn({ title: sheet.title, confirmed });
      if (!(error instanceof ApiProblem)) return;
      onAsked(error.confirm ? error.fields : []);
      // A sheet that is handed in already (on another device) shows its marks.
      if (error.status === 409) queries.invalidateQueries(sheetQuery(sheet.id));
    },
  });
}

/** The faults of one valve by field name: `valve 3.reading` gives `reading`. */
export function faultsOf(problem: ApiProblem | null, valve: number): Record<string, string> {
  const faults: Record<string, string> = {};
  for (const field of problem?.fields ?? []) {
    const match = /^valve (\d+)\.(\w+)$/.exec(field.path);
    if (match && Number(match[1]) === valve && match[2]) faults[match[2]] = field.problem;
  }
  return faults;
}

function focusFault(form: HTMLElement | null) {
  form?.querySelector<HTMLElement>('[aria-invalid="true"]')?.focus();
}

function focusValve(form: HTMLElement | null, path: string) {
  const number = /^valve (\d+)/.exec(path)?.[1];
  if (number === undefined)
    form?.parentElement?.querySelector<HTMLElement>(".safety input")?.focus();
  form?.querySelector<HTMLElement>(`#reading-${number}`)?.focus();
}
