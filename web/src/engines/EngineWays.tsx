/** Where one can go with an engine from the shelf. */
import { Link } from "react-router";
import type { Schemas } from "../api/client";

type Props = { engine: Schemas["EngineRow"]; mayTeach: boolean };

export function EngineWays({ engine, mayTeach }: Props) {
  return (
    <div className="engine-ways">
      <Way to={`/bench/${engine.id}`} title="Bench" of={engine.name} main />
      <Way to={`/route/${engine.id}`} title="Route card" of={engine.name} />
      <Way to={`/methods/${engine.id}`} title="Methods" of={engine.name} />
      <Way to={`/drill/${engine.id}`} title="Drill" of={engine.name} />
      {engine.shims && <Way to={`/shims/${engine.id}`} title="Shims" of={engine.name} />}
      {mayTeach && <Way to={`/engines/${engine.id}/edit`} title="Edit" of={engine.name} />}
      {!mayTeach && (
        <a className="button" href={`/api/engines/${engine.id}/file`} download>
          File<span className="visually-hidden"> of {engine.name}</span>
        </a>
      )}
    </div>
  );
}

type WayProps = { to: string; title: string; of: string; main?: boolean };

function Way({ to, title, of, main = false }: WayProps) {
  return (
    <Link className={main ? "button main" : "button"} to={to}>
      {title}
      <span className="visually-hidden"> of {of}</span>
    </Link>
  );
}
