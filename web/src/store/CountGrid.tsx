/** Counting by hand: every box with a field, all of it kept or nothing. Prints as a counting sheet. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Button, InputNumber } from "antd";
import { useState } from "react";
import { api, unwrap } from "../api/client";
import { keys } from "../api/keys";
import { Panel, PanelWays } from "../kit/Panel";
import { Problem } from "../kit/Problem";
import { type Stock, size } from "./words";

type Props = { open: boolean; sizes: readonly Stock[]; onClose: () => void };

export function CountGrid({ open, sizes, onClose }: Props) {
  const queries = useQueryClient();
  const [typed, setTyped] = useState<Record<number, number>>({});
  const close = () => {
    setTyped({});
    onClose();
  };
  const save = useMutation({
    mutationFn: () => {
      const counted = sizes.filter((stock) => typed[stock.id] !== undefined);
      return unwrap(
        api.POST("/api/store/count", {
          body: {
            sizes: counted.map((stock) => ({
              id: stock.id,
              count: typed[stock.id] ?? stock.count,
              seen: stock.count,
            })),
          },
        }),
      );
    },
    onSettled: () => queries.invalidateQueries({ queryKey: keys.store }),
    onSuccess: close,
  });
  const counted = Object.keys(typed).length;
  return (
    <Panel open={open} typed={counted > 0} title="Count the boxes" onClose={close}>
      <form
        className="count-grid"
        onSubmit={(event) => {
          event.preventDefault();
          save.mutate();
        }}
      >
        <p className="soft">
          Type what lies in each box. What is left blank stays as it is. Print this page, count with
          a pencil, and type it here.
        </p>
        <Button className="no-print" onClick={() => window.print()}>
          Print a counting sheet
        </Button>
        {sizes.map((stock) => (
          <label key={stock.id} htmlFor={`count-${stock.id}`}>
            <b className="figures">{size(stock.size_mm)}</b>
            <span className="soft">
              {Number(stock.diameter_mm)} across{stock.place && `, ${stock.place}`}
            </span>
            <span className="figures">{stock.count}</span>
            <InputNumber
              id={`count-${stock.id}`}
              aria-label={`Counted of ${size(stock.size_mm)} mm`}
              min={0}
              max={10_000}
              precision={0}
              value={typed[stock.id] ?? null}
              onChange={(count) =>
                setTyped((before) => {
                  const { [stock.id]: _, ...rest } = before;
                  return count === null ? rest : { ...rest, [stock.id]: count };
                })
              }
            />
          </label>
        ))}
        <p>
          <a href="/api/store/count.pdf" target="_blank" rel="noreferrer">
            Print a counting sheet
          </a>
        </p>
        <Problem error={save.error} />
        <PanelWays
          does={`Keep ${counted} counted`}
          pending={save.isPending}
          waits={counted === 0}
          onClose={close}
        />
      </form>
    </Panel>
  );
}
