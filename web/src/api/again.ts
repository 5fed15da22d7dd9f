/** How often a question is asked again by itself, and after how long. */
import { ApiProblem } from "./client";

const MOST_OFFLINE = 2;
/** A database that was killed is back within seconds: so long a page waits rather than fails. */
const MOST_AWAY = 8;

export function asksAgain(count: number, error: unknown): boolean {
  if (!(error instanceof ApiProblem)) return count < MOST_OFFLINE;
  if (error.status === 503) return count < MOST_AWAY;
  return error.status === 0 && count < MOST_OFFLINE;
}

export function afterMs(count: number): number {
  return Math.min(1000 * 2 ** count, 4000);
}
