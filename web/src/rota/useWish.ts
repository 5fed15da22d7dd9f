/** What a rota is to hold, as it is being changed: kept on the device until it is saved. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { ApiProblem, api, unwrap } from "../api/client";
import { keys } from "../api/keys";
import { useKept } from "../app/useKept";
import type { Rota, Wish } from "./words";

type Draft = { revision: number; wish: Wish };

export function useWish(rota: Rota) {
  const queries = useQueryClient();
  const [draft, setDraft, forget] = useKept<Draft | null>(`rota ${rota.id}`, null);
  const wish = draft?.wish ?? rota.wish;
  const changed = draft !== null && JSON.stringify(draft.wish) !== JSON.stringify(rota.wish);
  const save = useMutation({
    mutationFn: (confirmed: boolean) =>
      unwrap(
        api.PUT("/api/rotas/{rota_id}/wish", {
          params: { path: { rota_id: rota.id } },
          body: { revision: draft?.revision ?? rota.revision, wish, confirmed },
        }),
      ),
    onSuccess: async () => {
      await queries.invalidateQueries({ queryKey: keys.rota(rota.id) });
      forget();
    },
  });
  return {
    wish,
    changed,
    /** Somebody else has saved since this was begun. */
    outrun: changed && draft.revision !== rota.revision,
    set: (wish: Wish) => setDraft({ revision: changed ? draft.revision : rota.revision, wish }),
    /** On top of what stands now, knowing that it replaces it. */
    rebase: () => setDraft({ revision: rota.revision, wish }),
    forget: () => {
      save.reset();
      forget();
    },
    save,
    asks: save.error instanceof ApiProblem && save.error.confirm ? save.error.fields : [],
  };
}

export type Wishing = ReturnType<typeof useWish>;
