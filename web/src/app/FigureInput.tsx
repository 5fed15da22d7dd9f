/** Any figure that is typed: what is typed stays as it is, and what is no number is marked. */
import type { ComponentPropsWithRef } from "react";
import { isNoFigure } from "./figures";

type Props = Omit<ComponentPropsWithRef<"input">, "onChange" | "value"> & {
  value: string;
  onType: (typed: string) => void;
  /** Refused by the server, or wrong for a reason besides. */
  wrong?: boolean;
};

export function FigureInput({ value, onType, wrong = false, className, ...rest }: Props) {
  const noFigure = isNoFigure(value);
  return (
    <input
      inputMode="decimal"
      autoComplete="off"
      maxLength={40}
      title={noFigure ? "Give a number, like 0.25 or 0,25" : undefined}
      {...rest}
      className={className ?? "field figures"}
      value={value}
      aria-invalid={wrong || noFigure}
      onChange={(event) => onType(event.target.value)}
    />
  );
}
