/** What a run's page holds: the run itself, the valve and leaves in hand, and which tool is out. */
import { useSuspenseQuery } from "@tanstack/react-query";
import { useCallback, useMemo, useState } from "react";
import { cycleQuery } from "../api/queries";
import type { Ask } from "./useLeaf";
import { usePracticeKeys } from "./usePracticeKeys";
import { useRun } from "./useRun";

export type Tool = "feel" | "turn" | "adjust" | "close";
export type Practice = ReturnType<typeof usePractice>;

export function usePractice(runId: number) {
  const running = useRun(runId);
  const { run, view, act } = running;
  const { data: asMade } = useSuspenseQuery(cycleQuery(run.engine_id, run.engine_version));
  // This engine's marks are what is found on it, and need not be what its maker put there.
  const table = useMemo(
    () => ({ ...asMade, engine: { ...asMade.engine, marks: run.marks } }),
    [asMade, run.marks],
  );
  const [valve, setValve] = useState(table.engine.valves[0]?.number ?? 1);
  const [inHand, hold] = useState<number[]>(() => [nearestToSpec(run.leaves_um, table)]);
  const [tool, setTool] = useState<Tool>("feel");
  const [ask, setAsk] = useState<Ask>({ times: 0, nearOnly: false });
  const [late, setLate] = useState(run.until !== null && Date.now() > Date.parse(run.until));
  const [keysShown, setKeysShown] = useState(false);
  const feel = useCallback(
    (nearOnly: boolean) => setAsk(({ times }) => ({ times: times + 1, nearOnly })),
    [],
  );
  usePracticeKeys({
    act,
    table,
    view,
    valve,
    numbers: table.engine.valves.map((one) => one.number),
    onValve: setValve,
    box: run.leaves_um,
    inHand,
    onHold: hold,
    onFeel: (nearOnly) => {
      setTool("feel");
      feel(nearOnly && run.bridged);
    },
    onKeys: () => setKeysShown(true),
  });
  const timeUp = useCallback(() => {
    setLate(true);
    setTool("close");
  }, []);
  const chosen = table.engine.valves.find((one) => one.number === valve);
  return {
    ...{ running, run, view, act, table, valve, setValve, chosen, inHand, hold, tool, setTool },
    ...{ ask, feel, late, timeUp, keysShown, setKeysShown },
    work: { engineId: run.engine_id, version: run.engine_version, standId: null },
  };
}

/** The leaf to begin with: the nearest to the middle of the first spec, as the plate gives it. */
function nearestToSpec(
  box: readonly number[],
  table: { engine: { specs: { low_mm: number; high_mm: number }[] } },
): number {
  const spec = table.engine.specs[0];
  const middleUm = spec ? (spec.low_mm + spec.high_mm) * 500 : 250;
  return box.reduce(
    (best, leaf) => (Math.abs(leaf - middleUm) < Math.abs(best - middleUm) ? leaf : best),
    box[0] ?? 250,
  );
}
