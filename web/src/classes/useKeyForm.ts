/** A key as it is typed: one pass through all valves or several, what they pool to, and saving. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useDeferredValue, useState } from "react";
import { ApiProblem, api, type Schemas, unwrap } from "../api/client";
import { pooledQuery, standsQuery } from "../api/queries";
import { type Unit, usePerson, useUnit } from "../app/session";
import { useKept } from "../app/useKept";

type Stand = Schemas["StandOut"];
/** One time through all valves, as typed. */
export type Pass = {
  by: string;
  gaps: Record<number, string>;
  /** Of valves that are pulled shut. */
  closing?: Record<number, string>;
};

type Typed = { unit: Unit; passes: Pass[]; uncertainty: string; meter?: string };

const EMPTY: Pass = { by: "", gaps: {} };
export const MOST_PASSES = 6;

export type KeyTyped = ReturnType<typeof useKeyForm>;

/** correct: it begins with the gaps of the newest key. */
export function useKeyForm(stand: Stand, classId: number, onSaved: () => void, correct: boolean) {
  const own = useUnit();
  const person = usePerson();
  const [first] = useState<Typed>(() => ({
    unit: own,
    passes: [correct && stand.key ? passOf(stand.key) : EMPTY],
    uncertainty: "",
  }));
  // In this tab only: a key is nothing to leave on a tablet that students use, too.
  const place = `edrix-key-${person.id}-${stand.id}${correct ? "-correct" : ""}`;
  const [typed, setTyped, forget] = useKept(place, first, "tab");
  const { unit, passes, uncertainty, meter = "" } = typed;
  const setPasses = (now: Pass[]) => setTyped((before) => ({ ...before, passes: now }));
  const several = passes.length > 1;
  const body = useDeferredValue({
    passes: passes.map((pass) => ({ by: pass.by, gaps: gapsOf(stand, pass, unit) })),
    confirmed: false,
    meter,
  });
  const whole = passes.every((pass) => stand.valves.every((v) => pass.gaps[v.number]?.trim()));
  const pooled = useQuery({ ...pooledQuery(stand.id, body), enabled: several && whole });
  const one = {
    gaps: gapsOf(stand, passes[0] ?? EMPTY, unit),
    uncertainty,
    uncertainty_unit: unit,
    meter,
    confirmed: false,
  };
  const save = useSaveKey(stand.id, classId, several ? body : one, () => {
    forget();
    onSaved();
  });
  return {
    unit,
    setUnit: (now: Unit) => setTyped((before) => ({ ...before, unit: now })),
    passes,
    several,
    uncertainty,
    setUncertainty: (now: string) => setTyped((before) => ({ ...before, uncertainty: now })),
    /** What the stand's meter read, as typed. */
    meter,
    setMeter: (now: string) => setTyped((before) => ({ ...before, meter: now })),
    forget,
    pooled: several ? pooled.data : undefined,
    save,
    /** Valves that are asked about, while that waits to be confirmed. */
    doubts:
      save.error instanceof ApiProblem && save.error.confirm && !save.isPending
        ? save.error.fields
        : [],
    /** Whether closing would lose something. */
    typed:
      passes !== first.passes &&
      passes.some((pass) => Object.values(pass.gaps).some((gap) => gap.trim() !== "")),
    change(number: number, part: Partial<Pass>) {
      setPasses(passes.map((pass, at) => (at === number ? { ...pass, ...part } : pass)));
    },
    addPass: () => setPasses([...passes, EMPTY]),
    dropPass: () => setPasses(passes.slice(0, -1)),
    /** What is wrong at a valve, in one pass or another. */
    faultAt(valve: number): string | undefined {
      const fields = save.error instanceof ApiProblem ? save.error.fields : [];
      return fields.find(({ path }) => path.split(".").at(-1) === `valve ${valve}`)?.problem;
    },
  };
}

function useSaveKey(
  standId: number,
  classId: number,
  body: Schemas["KeyIn"] | Schemas["PassesIn"],
  onSaved: () => void,
) {
  const queries = useQueryClient();
  const params = { path: { stand_id: standId } };
  return useMutation({
    mutationFn: (confirmed: boolean) =>
      "passes" in body
        ? unwrap(
            api.POST("/api/stands/{stand_id}/passes", { params, body: { ...body, confirmed } }),
          )
        : unwrap(api.POST("/api/stands/{stand_id}/keys", { params, body: { ...body, confirmed } })),
    onSuccess: () => {
      queries.invalidateQueries(standsQuery(classId));
      onSaved();
    },
  });
}

/** A key as it was typed, each figure with its own unit. */
function passOf(key: Schemas["KeyOut"]): Pass {
  return {
    by: "",
    gaps: Object.fromEntries(key.gaps.map((gap) => [gap.valve, withUnit(gap.typed, gap.unit)])),
    closing: Object.fromEntries(
      key.gaps.map((gap) => [gap.valve, withUnit(gap.closing_typed, gap.unit)]),
    ),
  };
}

/** `0.25 mm`: a figure that says its unit keeps it whatever the form's unit is. */
export function withUnit(typed: string, unit: string): string {
  return typed === "" || /[a-z"]$/i.test(typed) ? typed : `${typed} ${unit}`;
}

function gapsOf(stand: Stand, pass: Pass, unit: Unit): Schemas["GapIn"][] {
  return stand.valves.map((valve) => ({
    valve: valve.number,
    gap: pass.gaps[valve.number] ?? "",
    closing: valve.closing ? (pass.closing?.[valve.number] ?? "") : "",
    unit,
  }));
}
