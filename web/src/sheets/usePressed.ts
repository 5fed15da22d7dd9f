import { useMemo, useSyncExternalStore } from "react";
import { onPressed, pressedHere } from "./kept";

/** The numbers of this person's sheets whose hand-in waits for the network. */
export function usePressed(personId: number): readonly number[] {
  const pressed = useSyncExternalStore(onPressed, () => pressedHere(personId));
  return useMemo(() => pressed.split(" ").filter(Boolean).map(Number), [pressed]);
}
