/** A figure to type, big enough for a thumb. What is typed stays as it is typed. */
import { isNoFigure } from "./figures";

type Props = {
  label: string;
  value: string;
  onChange: (typed: string) => void;
  placeholder?: string;
  most?: number;
  /** The id of a list of suggestions. */
  list?: string;
};

export function Field({ label, value, onChange, placeholder, most = 6, list }: Props) {
  return (
    <input
      className="figure-field figures"
      aria-label={label}
      inputMode="decimal"
      maxLength={most}
      placeholder={placeholder}
      list={list}
      value={value}
      aria-invalid={isNoFigure(value)}
      title={isNoFigure(value) ? "Give a number, like 0.25 or 0,25" : undefined}
      onChange={(event) => onChange(event.target.value)}
    />
  );
}
