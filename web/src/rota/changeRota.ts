/** Renames a rota, posts it, puts it away. */
import { api, type Schemas, unwrap } from "../api/client";

export function changeRota(rotaId: number, body: Schemas["RotaChanges"]) {
  return unwrap(api.PATCH("/api/rotas/{rota_id}", { params: { path: { rota_id: rotaId } }, body }));
}
