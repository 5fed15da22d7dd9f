/** A hand-in that waited: what was written first, so that a second device is heard, then all of it. */
import { isAway } from "../api/again";
import { ApiProblem, api, type Schemas, unwrap } from "../api/client";
import { type Kept, keptHere, placeOf } from "./kept";
import { isBegun, type Line } from "./lines";

/** What became of it. In every case but `waits` it waits no more. */
export type Outcome =
  | { became: "handed in"; result: Schemas["OwnResultOut"] }
  | { became: "asked" | "clash" | "waits" }
  | { became: "refused"; says: string };

export async function sendPressed(personId: number, sheetId: number): Promise<Outcome> {
  const kept = keptHere(placeOf(personId, sheetId));
  try {
    const draft = await saved(sheetId, kept);
    if (draft.clashes.length > 0) return { became: "clash" };
    return { became: "handed in", result: await handIn(sheetId, kept, draft.lines as Line[]) };
  } catch (error) {
    if (isAway(error)) return { became: "waits" };
    if (!(error instanceof ApiProblem)) throw error;
    return error.confirm ? { became: "asked" } : refused(error);
  }
}

async function saved(sheetId: number, kept: Kept): Promise<Schemas["DraftOut"]> {
  const changes = Object.values(kept.waiting).map(({ line, base }) => ({ line, based_on: base }));
  const params = { path: { sheet_id: sheetId } };
  try {
    return await unwrap(api.PATCH("/api/sheets/{sheet_id}/draft", { params, body: { changes } }));
  } catch (error) {
    // It is handed in already: perhaps by us, and the answer was lost; the key will tell.
    const isIn = error instanceof ApiProblem && error.status === 409;
    if (isIn) return { lines: changes.map(({ line }) => line), clashes: [] };
    throw error;
  }
}

function handIn(sheetId: number, kept: Kept, lines: readonly Line[]) {
  return unwrap(
    api.POST("/api/sheets/{sheet_id}/hand-in", {
      params: { path: { sheet_id: sheetId } },
      body: {
        lines: lines.filter(isBegun),
        request_key: kept.requestKey,
        confirmed: kept.pressed?.confirmed ?? false,
      },
    }),
  );
}

function refused(error: ApiProblem): Outcome {
  const faults = error.fields.map(({ path, problem }) => `${path}: ${problem}`);
  return { became: "refused", says: [error.message, ...faults].join(" ") };
}
