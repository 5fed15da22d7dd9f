/** How a stand is, by a sign and a word: never by colour alone. */
import { near } from "../app/school";
import { STATES } from "./words";

const SIGNS: Record<string, string> = {
  ready: "M4 10l4 5 8-10",
  warm: "M7 3c-3 4 3 5 0 9M12 3c-3 4 3 5 0 9M4 16h12",
  "worked-on": "M4 16L13 7M11 5a4 4 0 0 1 5 5l-3-1z",
  "out-of-order": "M5 5l10 10M15 5L5 15",
};

type Props = { state: string; why: string; warmUntil: string | null };

export function State({ state, why, warmUntil }: Props) {
  const until = state === "warm" && warmUntil !== null ? `until ${near(warmUntil)}` : why;
  return (
    <span className={`stand-state ${state}`}>
      <svg viewBox="0 0 20 20" width="18" height="18" aria-hidden="true" fill="none">
        <path d={SIGNS[state] ?? SIGNS.ready} stroke="currentColor" strokeWidth="2" />
      </svg>
      <b>{STATES[state] ?? state}</b>
      {until !== "" && <span className="soft">{until}</span>}
    </span>
  );
}
