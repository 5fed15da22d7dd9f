/** How far a gap may lie from a spec of one figure: the school states it, and verdicts say so. */
import { useMutation, useQueryClient, useSuspenseQuery } from "@tanstack/react-query";
import { App, Button } from "antd";
import { type FormEvent, useState } from "react";
import { ApiProblem, api, unwrap } from "../api/client";
import { keys } from "../api/keys";
import { shopQuery } from "../api/queries";
import { Figure } from "../kit/Figure";
import { Problem } from "../kit/Problem";

const FIELDS = [
  { name: "tolerance_mm", unit: "mm", label: "of a figure in mm" },
  { name: "tolerance_thou", unit: "thou", label: "of a figure in thou" },
] as const;

export function ShopTolerance() {
  const { data: shop } = useSuspenseQuery(shopQuery);
  const queries = useQueryClient();
  const { message } = App.useApp();
  const [typed, setTyped] = useState<Partial<Record<string, string>>>({});
  const shown = (name: (typeof FIELDS)[number]["name"]) =>
    typed[name] ?? String(Number(shop[name]));
  const save = useMutation({
    mutationFn: () =>
      unwrap(
        api.PUT("/api/shop", {
          body: { tolerance_mm: shown("tolerance_mm"), tolerance_thou: shown("tolerance_thou") },
        }),
      ),
    onSuccess: (now) => {
      queries.setQueryData(keys.shop, now);
      // Every spec that is shown may rest on it.
      queries.invalidateQueries({ queryKey: keys.eachEngine });
      setTyped({});
      void message.success?.("Saved. It counts from now on.");
    },
  });
  const faults = save.error instanceof ApiProblem ? save.error.fields : [];
  return (
    <section className="shop-tolerance" aria-labelledby="shop-tolerance">
      <h2 id="shop-tolerance">Shop tolerance</h2>
      <p>
        Some manuals print one figure and no tolerance. No gap is that figure to the micrometre:
        state how far off it may be in your shop. Every verdict that rests on it says so.
      </p>
      <form
        className="ways"
        onSubmit={(event: FormEvent) => {
          event.preventDefault();
          save.mutate();
        }}
      >
        {FIELDS.map(({ name, unit, label }) => (
          <label key={name} htmlFor={name}>
            {label}, ±
            <Figure
              id={name}
              value={shown(name)}
              suffix={unit}
              wrong={faults.some(({ path }) => path === name)}
              aria-label={`Shop tolerance ${label}`}
              onType={(text) => setTyped({ ...typed, [name]: text })}
            />
          </label>
        ))}
        <Button htmlType="submit" loading={save.isPending}>
          Save tolerance
        </Button>
      </form>
      <Problem error={save.error} />
      <p className="soft">
        ±0.02 mm and ±1 thou are common practice. Marks that are given and runs that are begun stay
        as they are; a tolerance in the manual always wins.
      </p>
    </section>
  );
}
