/** What is said of a stand; what is not given stays as it is. */
import { api, type Schemas, unwrap } from "../api/client";

export function changeStand(standId: number, body: Schemas["StandChanges"]) {
  const place = { params: { path: { stand_id: standId } } };
  return unwrap(api.PATCH("/api/stands/{stand_id}", { ...place, body }));
}
