/**
 * What a student's device keeps of their own pages: after a reload they stand there at once, also
 * without a network, and are put right as soon as the server answers. Gone with the sign-out.
 */
import { keys } from "../api/keys";

export const OWN_PLACE = "edrix-own";

export const OWN: readonly (readonly string[])[] = [
  keys.session,
  keys.myNow,
  keys.myAsked,
  keys.work,
  keys.ownRota,
  keys.classes,
  keys.sheets,
  keys.drills,
  keys.methods,
];

/** Somebody signed out, here or in another tab, and took what was kept: nothing is kept since. */
let taken = false;
window.addEventListener("storage", (event) => {
  if (event.key === OWN_PLACE && event.newValue === null) taken = true;
});

export const isTaken = () => taken;

/** Whoever signs in begins to keep their own. */
export function keepAgain() {
  taken = false;
}

/** Whether this device knows a student's pages already. */
export function keepsOwn(): boolean {
  return storage()?.getItem(OWN_PLACE) != null;
}

/** How the places begin at which what a student wrote is kept until the server has it. */
export const draftsOf = (personId: number) => `edrix-draft-${personId}-`;
export const RUNS = "edrix-run-";

/** Places of what this device keeps for this person and the server does not have yet. */
export function unsentOf(personId: number): string[] {
  const begins = [draftsOf(personId), RUNS];
  return Object.keys(storage() ?? {}).filter((place) =>
    begins.some((begin) => place.startsWith(begin)),
  );
}

export function forgetOwn(personId: number) {
  taken = true;
  for (const place of [OWN_PLACE, ...unsentOf(personId)]) storage()?.removeItem(place);
}

export function storage(): Storage | undefined {
  try {
    return window.localStorage;
  } catch {
    return undefined;
  }
}
