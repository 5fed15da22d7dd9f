/**
 * A student's own places as parts that come when they are shown, and are asked for while the
 * application still starts: on a phone's slow processor that is a third of the time until the page
 * stands there. Where a part is here already it is drawn at once, without a place-holder before it.
 */
import { type ComponentType, lazy, useState } from "react";
import { keepsOwn } from "./app/own";

/** So long the start waits: what comes later comes as every other part. */
const WAIT_MS = 1000;

type Module = { default: ComponentType };

function part(load: () => Promise<Module>) {
  let here: ComponentType | undefined;
  const ask = async () => {
    const came = await load();
    here = came.default;
    return came;
  };
  const Later = lazy(ask);
  // biome-ignore lint/correctness/noComponentHookFactories: made once for each part, below.
  function Part() {
    // As it was when it was first drawn: another type would begin anew, without what was typed.
    const [Drawn] = useState<ComponentType>(() => here ?? Later);
    return <Drawn />;
  }
  return Object.assign(Part, { ask });
}

/** Beside every page: where it does not come, the page goes on without. */
function beside(load: () => Promise<Module>) {
  return part(() => load().catch(() => ({ default: () => null })));
}

export const SheetPage = part(() => import("./sheets/SheetPage"));
export const WorkPage = part(() => import("./sheets/WorkPage"));
export const OwnToday = part(() => import("./today/OwnToday"));
export const AskedNow = beside(() => import("./asking/AskedNow"));
export const WaitingHandIns = beside(() => import("./sheets/WaitingHandIns"));

const AHEAD: readonly [RegExp, readonly { ask: () => Promise<unknown> }[]][] = [
  [/^\/sheet\//, [SheetPage]],
  [/^\/work$/, [WorkPage]],
  [/^\/(today)?$/, [OwnToday, AskedNow]],
];

/** Only where this device knows its student: nobody else's first page is kept waiting. */
export async function askAhead(path: string): Promise<void> {
  if (!keepsOwn()) return;
  const wanted = AHEAD.find(([places]) => places.test(path))?.[1] ?? [];
  const came = Promise.allSettled(wanted.map((one) => one.ask()));
  await Promise.race([came, new Promise((late) => setTimeout(late, WAIT_MS))]);
}
