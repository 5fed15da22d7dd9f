/**
 * The shelf as a student sees it: one card for each engine, light enough for a phone.
 * (An instructor has the list, `ShelfDesk`; antd's table would double what a phone loads.)
 */
import { useSuspenseQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import type { Schemas } from "../api/client";
import { enginesQuery } from "../api/queries";
import { Empty } from "../app/feedback";
import { counted, layoutWord } from "../app/words";
import { EngineWays } from "./EngineWays";
import "./engines.css";

export default function ShelfPage() {
  const { data } = useSuspenseQuery(enginesQuery);
  const engines = data.filter((engine) => !engine.away);
  useEffect(() => {
    document.title = "Engines · Edrix";
  }, []);
  return (
    <div className="shelf">
      <div className="place-head">
        <div>
          <h1>Engines</h1>
          <p>Choose one to turn on the Bench.</p>
        </div>
      </div>
      {engines.length === 0 && (
        <Empty title="The shelf is empty">Your instructor adds the engines.</Empty>
      )}
      <ul className="engines">
        {engines.map((engine) => (
          <EngineCard key={engine.id} engine={engine} />
        ))}
      </ul>
    </div>
  );
}

function EngineCard({ engine }: { engine: Schemas["EngineRow"] }) {
  return (
    <li className="card engine">
      <div>
        <h2>{engine.name}</h2>
        <p className="soft">
          {layoutWord(engine.layout)}, {counted(engine.cylinders, "cylinder")},{" "}
          {counted(engine.valves, "valve")}
          {engine.version > 1 && `, version ${engine.version}`}
        </p>
        <p>
          fires <b className="figures">{engine.firing_order.join("–")}</b>
        </p>
      </div>
      <EngineWays engine={engine} mayTeach={false} />
    </li>
  );
}
