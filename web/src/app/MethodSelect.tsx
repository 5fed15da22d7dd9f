/** A method of sequence to choose: those whose sign this engine does not show say why. */
import type { Schemas } from "../api/client";
import { useMethods } from "./methods";

type Props = {
  engine: Pick<Schemas["EngineFacts"], "methods_hidden">;
  value: string;
  label: string;
  onChoose: (method: string) => void;
};

export function MethodSelect({ engine, value, label, onChoose }: Props) {
  const methods = useMethods();
  const reason = engine.methods_hidden[value];
  return (
    <select
      className="field"
      aria-label={label}
      title={reason}
      value={value}
      onChange={(event) => onChoose(event.target.value)}
    >
      {methods.map((one) => {
        const hidden = engine.methods_hidden[one.name];
        return (
          <option key={one.name} value={one.name} disabled={hidden !== undefined} title={hidden}>
            {one.title}
            {hidden !== undefined && " (not on this engine)"}
          </option>
        );
      })}
    </select>
  );
}
