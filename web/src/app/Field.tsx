/** A figure to type, big enough for a thumb. What is typed stays as it is typed. */
import { FigureInput } from "./FigureInput";

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
    <FigureInput
      className="figure-field figures"
      aria-label={label}
      maxLength={most}
      placeholder={placeholder}
      list={list}
      value={value}
      onType={onChange}
    />
  );
}
