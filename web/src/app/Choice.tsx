/** One of a few, as a row of big buttons; native radios, so arrows and screen readers work. */
import { type ReactNode, useId } from "react";

type Option<T> = { value: T; label: ReactNode; title?: string };

type Props<T> = {
  label: string;
  options: readonly Option<T>[];
  /** null while nothing is chosen. */
  value: T | null;
  onChoose: (value: T) => void;
};

export function Choice<T extends string | number>({ label, options, value, onChoose }: Props<T>) {
  const name = useId();
  return (
    <fieldset className="choice">
      <legend className="visually-hidden">{label}</legend>
      {options.map((option) => (
        <label key={option.value} title={option.title}>
          <input
            type="radio"
            name={name}
            className="visually-hidden"
            checked={value === option.value}
            onChange={() => onChoose(option.value)}
          />
          {option.label}
        </label>
      ))}
    </fieldset>
  );
}
