/** The route card: stops and valves of one engine by one method, for the screen and for paper. */

import { useQuery, useSuspenseQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { Link, useParams } from "react-router";
import type { Schemas } from "../api/client";
import { addressQuery, cycleQuery, routeQuery } from "../api/queries";
import { BoardButton } from "../app/BoardButton";
import { FromTheManual } from "../app/FromTheManual";
import { Failure, Waiting } from "../app/feedback";
import { degrees } from "../app/lengths";
import { MethodSelect } from "../app/MethodSelect";
import { useMethod } from "../app/methods";
import { PlateFact, PlateFacts } from "../app/PlateFacts";
import { Words } from "../app/Words";
import { counted } from "../app/words";
import { ValveSketch } from "../bench/ValveSketch";
import { MANY_CYLINDERS } from "../bench/Valves";
import { OpenForWork } from "../safety/OpenForWork";
import { type CardColumns, StopsTable } from "./StopsTable";
import { useWish } from "./useWish";
import { WishFields } from "./WishFields";
import "./routecard.css";

type Facts = Schemas["EngineFacts"];
type Plan = Schemas["PlanOut"];

const OPTIONS = [
  { name: "ticks", label: "Tick boxes", shownFirst: true },
  { name: "reading", label: "Room for readings", shownFirst: false },
  { name: "adjuster", label: "Room for the adjuster", shownFirst: false },
  { name: "qr", label: "QR code", shownFirst: false },
  { name: "poster", label: "Poster", shownFirst: false },
] as const;

export default function RouteCardPage() {
  const { engineId = "" } = useParams();
  const { search, wish, choose, carried } = useWish();
  const id = Number(engineId);
  const version = Number(search.get("version")) || null;
  const sheet = Number(search.get("sheet")) || null;
  const { engine } = useSuspenseQuery(cycleQuery(id, version)).data;
  const method = search.get("method") ?? engine.best_method;
  const route = useQuery(routeQuery(id, version, { ...wish, method }));
  useEffect(() => {
    document.title = `${engine.name} · Route card · Edrix`;
  }, [engine]);
  const shown = (name: string, first: boolean) => {
    const said = search.get(name);
    return said === null ? first : said === "yes";
  };
  const options = OPTIONS.map((option) => ({
    ...option,
    on: shown(option.name, option.shownFirst || (option.name === "qr" && sheet !== null)),
  }));
  const on = Object.fromEntries(options.map((option) => [option.name, option.on]));
  const columns = { ticks: on.ticks, reading: on.reading, adjuster: on.adjuster } as CardColumns;
  const benchPath = (at?: number) => {
    const words = [
      `method=${method}`,
      version && `version=${version}`,
      at !== undefined && `at=${at}`,
    ];
    return `/bench/${id}?${words.filter(Boolean).join("&")}`;
  };

  return (
    <article
      className={[
        "route-card",
        on.poster ? "poster" : "",
        on.reading || on.adjuster ? "to-write-on" : "",
        engine.firing_order.length > MANY_CYLINDERS ? "many" : "",
      ].join(" ")}
    >
      <div className="route-tools">
        <MethodSelect
          engine={engine}
          label="Method of sequence"
          value={method}
          onChoose={(chosen) => choose("method", chosen)}
        />
        <WishFields search={search} wish={wish} choose={choose} />
        <span className="grow" />
        <BoardButton />
        <Link className="button" to={`/methods/${id}${carried()}`}>
          Compare
        </Link>
        <Link className="button" to={benchPath()}>
          Bench
        </Link>
        <button type="button" className="button main" onClick={() => window.print()}>
          Print
        </button>
      </div>
      <fieldset className="card-options">
        <legend className="visually-hidden">On the card</legend>
        {options.map((option) => (
          <label key={option.name}>
            <input
              type="checkbox"
              checked={option.on}
              onChange={() => choose(option.name, option.on ? "no" : "yes")}
            />
            {option.label}
          </label>
        ))}
      </fieldset>
      <section className="card sheet-of-paper">
        <Head engine={engine} method={method} qrPath={on.qr ? qrPath(id, sheet, method) : null} />
        {route.isPending && <Waiting />}
        {route.isError && <Failure error={route.error} retry={() => route.refetch()} />}
        {route.data && (
          <>
            <Summary plan={route.data} />
            <StopsTable plan={route.data} engine={engine} columns={columns} benchPath={benchPath} />
            <p className="overshot">
              <Words text={route.data.if_overshot} />
            </p>
            <FromTheManual engine={engine} open />
          </>
        )}
        <OpenForWork engineId={id} version={version} standId={null} />
      </section>
    </article>
  );
}

function qrPath(engineId: number, sheet: number | null, method: string): string {
  return sheet === null ? `/bench/${engineId}?method=${method}` : `/sheet/${sheet}`;
}

type HeadProps = { engine: Facts; method: string; qrPath: string | null };

function Head({ engine, method, qrPath }: HeadProps) {
  const { title, about } = useMethod(method);
  return (
    <header className="card-head">
      <div>
        <p className="soft">
          Route card · {title}: {about}
        </p>
        <h1>{engine.name}</h1>
      </div>
      <PlateFacts engine={engine}>
        <PlateFact name="Turns">{engine.rotation}</PlateFact>
        {Object.entries(engine.trains).map(([role, train]) => (
          <PlateFact key={role} name={`${role}: ${train.part}`} role={`${role} sketched`}>
            <ValveSketch train={train} size={46} />
          </PlateFact>
        ))}
      </PlateFacts>
      {qrPath !== null && <Code path={qrPath} />}
    </header>
  );
}

/** A code that leads phones here; where they cannot open this Edrix at all, that is said instead. */
function Code({ path }: { path: string }) {
  const { data } = useQuery(addressQuery);
  if (data === undefined) return null;
  if (data.address === null) {
    return (
      <p className="soft qr">
        No code: phones can’t open this Edrix; it listens on this machine only.
      </p>
    );
  }
  return (
    <figure className="qr">
      <img
        src={`/api/qr.svg?path=${encodeURIComponent(path)}`}
        width="96"
        height="96"
        alt={`QR code to ${path}`}
      />
      <figcaption>{path.startsWith("/sheet") ? "to the sheet" : "to the Bench"}</figcaption>
    </figure>
  );
}

function Summary({ plan }: { plan: Plan }) {
  return (
    <>
      <p className={plan.complete ? "notice calm" : "notice"} role="status">
        {plan.complete
          ? `Every valve is set once, ${counted(plan.stops.length, "stop")}, ${degrees(plan.total_turn_deg)} of turning. Least margin: `
          : "This route does not cover every valve. Least margin of those it sets: "}
        <b className="figures">
          {plan.least_margin_deg === null ? "none" : degrees(plan.least_margin_deg)}
        </b>
        {plan.unset.length > 0 && <>. Not set: valves {plan.unset.join(", ")}</>}.
      </p>
      {plan.warnings.length > 0 && (
        <ul className="warnings">
          {plan.warnings.map((warning) => (
            <li key={warning}>
              <Words text={warning} />
            </li>
          ))}
        </ul>
      )}
    </>
  );
}
