/** What stands on an engine's plate: firing order and spec, in the reader's own unit first. */
import type { ReactNode } from "react";
import type { Schemas } from "../api/client";
import { spec } from "./lengths";
import { useUnit } from "./session";

type Props = {
  engine: Pick<Schemas["EngineFacts"], "firing_order" | "measured" | "specs">;
  /** More facts, between the firing order and the spec. */
  children?: ReactNode;
};

export function PlateFacts({ engine, children }: Props) {
  const unit = useUnit();
  return (
    <dl className="plate-facts">
      <PlateFact name="Fires">{engine.firing_order.join("–")}</PlateFact>
      {children}
      {engine.specs.map((limits) => {
        const [own, other] = spec(limits, unit);
        const closing = limits.closing ? spec(limits.closing, unit)[0] : null;
        const running = limits.running ? spec(limits.running, unit)[0] : null;
        return (
          <PlateFact
            key={limits.role}
            role={limits.role}
            name={`${limits.role}, ${engine.measured}`}
          >
            {own} <small>{other}</small>
            {closing && <small className="second">closing {closing}</small>}
            {running && <small className="second">running {running}</small>}
          </PlateFact>
        );
      })}
    </dl>
  );
}

type FactProps = { name: string; role?: string; children: ReactNode };

export function PlateFact({ name, role, children }: FactProps) {
  return (
    <div className={role}>
      <dt>{name}</dt>
      <dd>{children}</dd>
    </div>
  );
}
