/** What is typed, with undo, and kept on this device until it is shelved. */
import { useCallback, useEffect, useState } from "react";
import { type Form, laidOut } from "./form";

const MOST_UNDO = 100;

type Kept = { form: Form; basedOn: number | null };

export function keyOf(personId: number, engine: string): string {
  return `edrix.engine-draft.${personId}.${engine}`;
}

export function keptDraft(key: string): Kept | null {
  try {
    const text = localStorage.getItem(key);
    return text === null ? null : (JSON.parse(text) as Kept);
  } catch {
    return null;
  }
}

export function forgetDraft(key: string) {
  try {
    localStorage.removeItem(key);
  } catch {
    // A device that keeps nothing has nothing to forget.
  }
}

export function useEditor(first: Form, key: string, basedOn: number | null) {
  const [form, setForm] = useState(first);
  const [before, setBefore] = useState<readonly Form[]>([]);
  const touched = before.length > 0;

  useEffect(() => {
    if (!touched) return;
    try {
      localStorage.setItem(key, JSON.stringify({ form, basedOn } satisfies Kept));
    } catch {
      // A full or forbidden store loses only the copy: the page still has what was typed.
    }
  }, [form, touched, key, basedOn]);

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
    [form],
  );
  const undo = useCallback(() => {
    const last = before.at(-1);
    if (last === undefined) return;
    setForm(last);
    setBefore(before.slice(0, -1));
  }, [before]);
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
