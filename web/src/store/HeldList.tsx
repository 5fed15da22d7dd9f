/** Shims held back for valves: fitted, with what came out, or let go. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Button, Empty } from "antd";
import { useState } from "react";
import { api, unwrap } from "../api/client";
import { keys } from "../api/keys";
import { Figure } from "../kit/Figure";
import { Problem } from "../kit/Problem";
import { type HeldShim, size } from "./words";

export function HeldList({ held }: { held: readonly HeldShim[] }) {
  if (held.length === 0) {
    return (
      <Empty description="Nothing is held back. A plan for engines holds back what it takes from the store." />
    );
  }
  return (
    <ul className="reserved-list">
      {held.map((one) => (
        <Held key={one.id} held={one} />
      ))}
    </ul>
  );
}

function Held({ held }: { held: HeldShim }) {
  const queries = useQueryClient();
  const again = () => queries.invalidateQueries({ queryKey: keys.store });
  const [out, setOut] = useState(held.returns_mm === null ? "" : size(held.returns_mm));
  const place = { params: { path: { held_id: held.id } } };
  const fit = useMutation({
    mutationFn: () =>
      unwrap(api.POST("/api/store/held/{held_id}/fitted", { ...place, body: { took_out: out } })),
    onSettled: again,
  });
  const letGo = useMutation({
    mutationFn: () => unwrap(api.DELETE("/api/store/held/{held_id}", place)),
    onSettled: again,
  });
  const name = `${held.stand}, valve ${held.valve}`;
  return (
    <li className="card">
      <b>{name}</b>
      <span className="figures">{size(held.size_mm)} mm</span>
      <label htmlFor={`out-${held.id}`}>
        left over, by micrometer
        <Figure
          id={`out-${held.id}`}
          aria-label={`Left over from ${name}, mm`}
          value={out}
          maxLength={20}
          onType={setOut}
        />
      </label>
      <Button type="primary" loading={fit.isPending} onClick={() => fit.mutate()}>
        Fitted
      </Button>
      <Button loading={letGo.isPending} onClick={() => letGo.mutate()}>
        Let it go
      </Button>
      <Problem error={fit.error ?? letGo.error} />
    </li>
  );
}
