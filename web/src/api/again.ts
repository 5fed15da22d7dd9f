/** How often a question is asked again by itself, after how long, and whether it is worth it. */
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

/** The network or the server is away, and will be back; anything else is a refusal. */
export function isAway(error: unknown): boolean {
  if (!(error instanceof ApiProblem)) return true;
  // Whoever was signed out signs in again, and goes on.
  return error.status === 0 || error.status === 401 || error.status >= 500;
}
