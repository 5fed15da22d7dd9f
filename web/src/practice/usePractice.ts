/** What a run's page holds: the run itself, the valve and leaves in hand, and which tool is out. */
import { useSuspenseQuery } from "@tanstack/react-query";
import { useCallback, useMemo, useState } from "react";
import type { Schemas } from "../api/client";
import { cycleQuery, type GapKind } from "../api/queries";
import { useDotted } from "../bench/useDots";
import type { Ask } from "./useLeaf";
import { usePracticeKeys } from "./usePracticeKeys";
import { useRun } from "./useRun";

export type Tool = "feel" | "turn" | "section" | "adjust" | "close";
export type Practice = ReturnType<typeof usePractice>;

export function usePractice(runId: number) {
  const running = useRun(runId);
  const { run, view, act } = running;
  const { data: asMade } = useSuspenseQuery(cycleQuery(run.engine_id, run.engine_version));
  // This engine's marks are what is found on it, and need not be what its maker put there.
  const found = useMemo(
    () => ({ ...asMade, engine: { ...asMade.engine, marks: run.marks } }),
    [asMade, run.marks],
  );
  const table = useDotted(found, view.dots_deg);
  const [valve, setValve] = useState(table.engine.valves[0]?.number ?? 1);
  const [inHand, setInHand] = useState<number[]>(() => [nearestToSpec(run.leaves_um, table)]);
  const [bodyUm, setBody] = useState<number | null>(null);
  const [angled, setAngled] = useState(false);
  const [shownValve, showValve] = useState<number | null>(null);
  const hold = useCallback((leaves: number[]) => {
    setInHand(leaves);
    setBody(null);
  }, []);
  const [wanted, setGap] = useState<GapKind>("opening");
  const [tool, setTool] = useState<Tool>("feel");
  const [ask, setAsk] = useState<Ask | null>(null);
  const [late, setLate] = useState(run.until !== null && Date.now() > Date.parse(run.until));
  const [keysShown, setKeysShown] = useState(false);
  const feel = useCallback((nearOnly: boolean) => setAsk({ nearOnly }), []);
  const onAsked = useCallback(() => setAsk(null), []);
  const gaps = gapsOf(table, valve);
  const gap: GapKind = gaps.includes(wanted) ? wanted : "opening";
  const setByLeaf = (pressing: boolean) => {
    const bent = angled ? { angled } : {};
    act({ do: "set", valve, leaves_um: [...inHand], pressing, ...bent });
  };
  usePracticeKeys({
    act,
    setByLeaf,
    table,
    view,
    valve,
    gap,
    numbers: table.engine.valves.map((one) => one.number),
    onValve: setValve,
    box: angled ? run.angled_um : run.leaves_um,
    push: table.engine.trains[roleOf(table, valve)]?.push ?? "",
    inHand,
    onHold: hold,
    onFeel: (nearOnly) => {
      setTool("feel");
      feel(nearOnly && run.bridged.includes(valve));
    },
    onKeys: () => setKeysShown(true),
  });
  const timeUp = useCallback(() => {
    setLate(true);
    setTool("close");
  }, []);
  const chosen = table.engine.valves.find((one) => one.number === valve);
  return {
    ...{ gaps, gap, setGap },
    ...{ running, run, view, act, table, valve, setValve, chosen, inHand, hold, tool, setTool },
    ...{ bodyUm, angled, shownValve, showValve, setByLeaf },
    takeStep: (tipUm: number, body: number) => {
      setInHand([tipUm]);
      setBody(body);
    },
    takeAngled: (wanted: boolean) => {
      setAngled(wanted);
      setBody(null);
      const box = wanted ? run.angled_um : run.leaves_um;
      setInHand(([held = 250]) => [nearest(box, held)]);
    },
    ...{ ask, onAsked, feel, late, timeUp, keysShown, setKeysShown },
    work: { engineId: run.engine_id, version: run.engine_version, standId: null },
  };
}

type Specs = { engine: Pick<Schemas["EngineFacts"], "valves" | "specs"> };

/** The gaps that a valve has: one that is pulled shut a closing gap, a brake a running gap. */
export function gapsOf({ engine }: Specs, number: number): GapKind[] {
  const role = engine.valves.find((valve) => valve.number === number)?.role;
  const spec = engine.specs.find((one) => one.role === role);
  if (spec?.closing) return ["closing", "opening"];
  return spec?.running ? ["opening", "running"] : ["opening"];
}

/** The leaf to begin with: the nearest to the middle of the first spec, as the plate gives it. */
function nearestToSpec(
  box: readonly number[],
  table: { engine: { specs: { low_mm: number; high_mm: number }[] } },
): number {
  const spec = table.engine.specs[0];
  return nearest(box, spec ? (spec.low_mm + spec.high_mm) * 500 : 250);
}

function nearest(box: readonly number[], wantedUm: number): number {
  return box.reduce(
    (best, leaf) => (Math.abs(leaf - wantedUm) < Math.abs(best - wantedUm) ? leaf : best),
    box[0] ?? 250,
  );
}

function roleOf({ engine }: Specs, number: number): string {
  return engine.valves.find((valve) => valve.number === number)?.role ?? "";
}
