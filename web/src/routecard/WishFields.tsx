/** Direction, start, margin and stops: how the crank is turned. */

import { useEffect, useState } from "react";
import { Choice } from "../app/Choice";
import { FigureInput } from "../app/FigureInput";
import { isNoFigure } from "../app/figures";
import type { useWish } from "./useWish";
import "./wish.css";

type Props = Pick<ReturnType<typeof useWish>, "search" | "wish" | "choose">;

export function WishFields({ search, wish, choose }: Props) {
  return (
    <>
      <Choice
        label="Direction of turning"
        options={[
          { value: "running", label: "Running way" },
          { value: "reverse", label: "Backwards" },
        ]}
        value={wish.direction}
        onChoose={(direction) => choose("direction", direction)}
      />
      <Choice
        label="Where stops may be"
        options={[
          { value: "any", label: "Any angle" },
          { value: "marks", label: "At marks only" },
        ]}
        value={wish.stops}
        onChoose={(stops) => choose("stops", stops)}
      />
      <DegreesField
        label="Crank stands at"
        value={search.get("start") ?? ""}
        onCommit={(start) => choose("start", start)}
      />
      <DegreesField
        label="Least margin"
        value={search.get("margin") ?? ""}
        onCommit={(margin) => choose("margin", margin)}
      />
    </>
  );
}

type FieldProps = { label: string; value: string; onCommit: (text: string | null) => void };

/** Degrees as typed; asked for once they are a number, told of while they are not. */
function DegreesField({ label, value, onCommit }: FieldProps) {
  const [typed, setTyped] = useState(value);
  useEffect(() => setTyped(value), [value]);
  return (
    <label className="degrees-field">
      <span className="soft">{label}</span>
      <FigureInput
        placeholder="0"
        value={typed}
        {...(isNoFigure(typed) && { title: "Give crank degrees, like 120" })}
        onType={(text) => {
          setTyped(text);
          if (!isNoFigure(text)) onCommit(text.trim());
        }}
      />
      °
    </label>
  );
}
