/** What is typed, with undo, and kept until it is shelved: here, and on the server. */
import { useCallback, useState } from "react";
import type { LongForm } from "../app/useLongForm";
import { type Form, laidOut } from "./form";
import { completed } from "./opened";

const MOST_UNDO = 100;

/** Nothing, or all that is typed and the version of the engine that it follows. */
export type Draft = Partial<Form> & { basedOn?: number | null };
export const NO_DRAFT: Draft = {};

export function isDraft(draft: Draft): draft is Form & { basedOn: number | null } {
  return draft.name !== undefined;
}

export function useEditor(first: Form, draft: LongForm<Draft>, basedOn: number | null) {
  const form = isDraft(draft.typed) ? completed(draft.typed) : first;
  const [before, setBefore] = useState<readonly Form[]>([]);
  const touched = before.length > 0;
  const keep = draft.change;
  const setForm = useCallback((next: Form) => keep({ ...next, basedOn }), [keep, basedOn]);

  const change = useCallback(
    (part: Partial<Form>) => {
      setBefore((steps) => [...steps, form].slice(-MOST_UNDO));
      const next = { ...form, ...part };
      // A head that is laid out otherwise is numbered afresh; undo brings the old numbers back.
      if (part.banks !== undefined || part.head !== undefined) {
        next.valves = laidOut(next.banks, next.head);
      }
      if (part.cylinders !== undefined) {
        const count = Number(part.cylinders);
        if (Number.isInteger(count) && count > 0 && count <= 24) {
          next.banks = banksFor(count, form.banks.split("/").length);
          next.valves = laidOut(next.banks, next.head);
        }
      }
      setForm(next);
    },
    [form, setForm],
  );
  const undo = useCallback(() => {
    const last = before.at(-1);
    if (last === undefined) return;
    setForm(last);
    setBefore(before.slice(0, -1));
  }, [before, setForm]);
  return { form, change, undo, touched };
}

/** So many cylinders in so many banks, one after the other. */
function banksFor(count: number, banks: number): string {
  const each = Math.ceil(count / Math.max(1, banks));
  const numbers = Array.from({ length: count }, (_, index) => index + 1);
  const rows: string[] = [];
  for (let from = 0; from < count; from += each) {
    rows.push(numbers.slice(from, from + each).join(" "));
  }
  return rows.join(" / ");
}
