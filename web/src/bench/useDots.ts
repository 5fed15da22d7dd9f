/** Dots of one's own on the pulley: painted where the pointer is, kept on this device for this engine. */
import { useMemo } from "react";
import { usePerson } from "../app/session";
import { useKept } from "../app/useKept";
import { pastInTurn } from "./crank";
import type { Table } from "./lookup";

export type Mark = Table["engine"]["marks"][number];
const TURN_DEG = 360;
/** So near the pointer a dot is the one that is there. */
const AT_POINTER_DEG = 2;
const MOST_DOTS = 4;
const NONE: number[] = [];

export function useDots(engineId: number) {
  const person = usePerson();
  const [dotsDeg, setDots] = useKept<number[]>(
    `edrix-dots-${person.id}-${engineId}`,
    NONE,
    "device",
  );
  return {
    dotsDeg,
    /** The dot at the pointer, if there is one. */
    dotAt: (deg: number) => dotAt(dotsDeg, deg),
    /** Paints one at the pointer, or wipes off the one that is there. */
    toggleDot(deg: number) {
      const here = dotAt(dotsDeg, deg);
      if (here !== undefined) setDots(dotsDeg.filter((dot) => dot !== here));
      else if (dotsDeg.length < MOST_DOTS)
        setDots([...dotsDeg, deg % TURN_DEG].sort((a, b) => a - b));
    },
  };
}

/** Which of these dots is at the pointer: the wheel closes, 359.5° is next to 0°. */
export function dotAt(dotsDeg: readonly number[], deg: number): number | undefined {
  return dotsDeg.find((dot) => Math.abs(pastInTurn(dot, deg)) <= AT_POINTER_DEG);
}

/** The engine with its own marks and these dots. */
export function useDotted(table: Table, dotsDeg: readonly number[]): Table {
  return useMemo(() => {
    if (dotsDeg.length === 0) return table;
    const marks = [...table.engine.marks, ...dotsDeg.map(asMark)];
    return { ...table, engine: { ...table.engine, marks } };
  }, [table, dotsDeg]);
}

/** A dot as a mark among others: it tells where, and nothing of what is there. */
function asMark(deg: number): Mark {
  return {
    on: "crank",
    label: "●",
    deg,
    means: "own",
    crank_degs: [deg, deg + TURN_DEG],
    pointer: "",
    cylinders: [],
    clock: null,
  };
}
