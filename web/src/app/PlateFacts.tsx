/** What stands on an engine's plate: firing order and spec, in the unit of its manual first. */
import type { ReactNode } from "react";
import type { Schemas } from "../api/client";

type Props = {
  engine: Pick<Schemas["EngineFacts"], "firing_order" | "measured" | "specs">;
  /** More facts, between the firing order and the spec. */
  children?: ReactNode;
};

export function PlateFacts({ engine, children }: Props) {
  return (
    <dl className="plate-facts">
      <PlateFact name="Fires">{engine.firing_order.join("–")}</PlateFact>
      {children}
      {engine.specs.map((limits) => {
        const [closing, running] = [limits.closing?.says, limits.running?.says];
        return (
          <PlateFact
            key={limits.role}
            role={limits.role}
            name={`${limits.role}, ${engine.measured}`}
          >
            {limits.says} <small>{limits.says_other}</small>
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
