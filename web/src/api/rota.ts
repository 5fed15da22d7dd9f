/** Queries of rotas: of a class, of one as it stands, of planning under way, and one's own. */
import { queryOptions } from "@tanstack/react-query";
import { api, unwrap } from "./client";
import { keys } from "./keys";

/** How often a page that waits for a plan asks how far it is. */
const LOOK_MS = 700;

export const rotasQuery = (classId: number) =>
  queryOptions({
    queryKey: keys.ofClass(classId, "rotas"),
    queryFn: () =>
      unwrap(api.GET("/api/classes/{class_id}/rotas", { params: { path: { class_id: classId } } })),
  });

const ofRota = (rotaId: number) => ({ params: { path: { rota_id: rotaId } } });

export const rotaQuery = (rotaId: number) =>
  queryOptions({
    queryKey: keys.rota(rotaId),
    queryFn: () => unwrap(api.GET("/api/rotas/{rota_id}", ofRota(rotaId))),
  });

/** Asked again and again while a worker plans. */
export const planningQuery = (rotaId: number) =>
  queryOptions({
    queryKey: keys.ofRota(rotaId, "planning"),
    queryFn: () => unwrap(api.GET("/api/rotas/{rota_id}/planning", ofRota(rotaId))),
    refetchInterval: (query) => (query.state.data?.is_over === false ? LOOK_MS : false),
    gcTime: 0,
  });

export const ownRotaQuery = queryOptions({
  queryKey: keys.ownRota,
  queryFn: () => unwrap(api.GET("/api/my/rota")),
});
