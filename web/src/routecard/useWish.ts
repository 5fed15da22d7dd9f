/** How the crank is to be turned, kept in the address so that a card can be passed on. */

import { useSearchParams } from "react-router";
import type { MethodsWish } from "../api/queries";
import { figureOf } from "../app/figures";
import { PLAIN_WISH } from "../app/methods";

const DIRECTIONS = ["running", "reverse"];
const STOPS = ["any", "marks"];

function figure(text: string | null, fallback: number): number {
  return figureOf(text ?? "") ?? fallback;
}

function oneOf(options: readonly string[], text: string | null): string {
  return text !== null && options.includes(text) ? text : (options[0] ?? "");
}

export function useWish() {
  const [search, setSearch] = useSearchParams();
  const wish: MethodsWish = {
    startDeg: figure(search.get("start"), PLAIN_WISH.startDeg),
    direction: oneOf(DIRECTIONS, search.get("direction")),
    minMarginDeg: Math.min(360, Math.max(0, figure(search.get("margin"), PLAIN_WISH.minMarginDeg))),
    stops: oneOf(STOPS, search.get("stops")),
  };

  function choose(name: string, value: string | null) {
    const changed = new URLSearchParams(search);
    if (value === null || value === "") changed.delete(name);
    else changed.set(name, value);
    setSearch(changed, { replace: true });
  }

  /** The same wish for another place's address. */
  function carried(method?: string): string {
    const kept = new URLSearchParams();
    for (const name of ["version", "start", "direction", "margin", "stops"]) {
      const value = search.get(name);
      if (value !== null) kept.set(name, value);
    }
    if (method !== undefined) kept.set("method", method);
    const text = kept.toString();
    return text ? `?${text}` : "";
  }

  return { search, wish, choose, carried };
}
