/** Any figure that is typed on the desk: marked where it is no number, as `FigureInput` does. */
import { Input, type InputProps } from "antd";
import { isNoFigure } from "../app/figures";

type Props = Omit<InputProps, "onChange" | "value"> & {
  value?: string;
  /** A `Form.Item` gives onChange instead. */
  onType?: (typed: string) => void;
  onChange?: InputProps["onChange"];
  /** Refused by the server, or wrong for a reason besides. */
  wrong?: boolean;
};

export function Figure({ value = "", onType, onChange, wrong = false, ...rest }: Props) {
  const noFigure = isNoFigure(value);
  return (
    <Input
      inputMode="decimal"
      autoComplete="off"
      maxLength={40}
      className="figures"
      title={noFigure ? "Give a number, like 0.25 or 0,25" : undefined}
      {...rest}
      value={value}
      status={wrong || noFigure ? "error" : ""}
      aria-invalid={wrong || noFigure}
      onChange={(event) => {
        onChange?.(event);
        onType?.(event.target.value);
      }}
    />
  );
}
