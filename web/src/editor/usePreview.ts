/** What the core says of the engine file while it is typed: at most one question under way. */
import { useEffect, useRef, useState } from "react";
import { api, type Schemas, unwrap } from "../api/client";

type Preview = Schemas["PreviewOut"];
export type Checked = {
  faults: Preview["faults"];
  warnings: readonly string[];
  /** The last table that could be made; it stays while a figure is half typed. */
  table: Preview["table"];
  /** The table is of an earlier state than what is typed. */
  stale: boolean;
  error: unknown;
};

const NOTHING: Checked = { faults: [], warnings: [], table: null, stale: true, error: null };

export function usePreview(document: Record<string, unknown>): Checked {
  const [checked, setChecked] = useState(NOTHING);
  const asking = useRef(false);
  const wanted = useRef<string | null>(null);
  const text = JSON.stringify(document);

  useEffect(() => {
    wanted.current = text;
    async function ask() {
      if (asking.current) return;
      asking.current = true;
      // What was typed while an answer was under way is asked next; nothing waits for a timer.
      while (wanted.current !== null) {
        const body = wanted.current;
        wanted.current = null;
        try {
          const found = await unwrap(api.POST("/api/engine-preview", { body: JSON.parse(body) }));
          setChecked((before) => ({
            faults: found.faults,
            warnings: found.warnings,
            table: found.table ?? before.table,
            stale: found.table === null,
            error: null,
          }));
        } catch (error) {
          setChecked((before) => ({ ...before, stale: true, error }));
        }
      }
      asking.current = false;
    }
    void ask();
  }, [text]);
  return checked;
}
