/** An engine at the place of a step, to be turned by hand and keys before the class. */
import { useSuspenseQuery } from "@tanstack/react-query";
import { useMemo, useRef, useState } from "react";
import { Link, useLocation } from "react-router";
import { cycleQuery } from "../api/queries";
import { useUnit } from "../app/session";
import { useShopRoom } from "../app/useShopRoom";
import { ClearanceView } from "../bench/ClearanceView";
import { CrankWheel } from "../bench/CrankWheel";
import { Crank } from "../bench/crank";
import { OverlapView } from "../bench/OverlapView";
import { SectionView } from "../bench/SectionView";
import { type Switches, useTurningKeys } from "../bench/useTurningKeys";
import { Valves } from "../bench/Valves";
import { Verdict } from "../bench/Verdict";
import type { Held } from "./lesson";

const nothing = () => {};

export function HeldBench({ step, engineId }: { step: Held; engineId: number }) {
  const { data: table } = useSuspenseQuery(cycleQuery(engineId, null));
  const crank = useMemo(() => new Crank(step.at_deg ?? 0), [step]);
  const unit = useUnit();
  const { board } = useShopRoom();
  const [isCovered, setCovered] = useState(step.cover);
  const stops = useRef<number[]>([]);
  const switches = useMemo<Switches>(
    () => ({
      hidden: isCovered,
      cover: () => setCovered((before) => !before),
      ...{ rock: nothing, real: nothing, view: nothing, hide: nothing, board: nothing },
      keys: nothing,
    }),
    [isCovered],
  );
  useTurningKeys(crank, table, stops, switches);
  const { pathname, search } = useLocation();
  const back = encodeURIComponent(pathname + search);
  return (
    <div className={isCovered ? "held-bench" : `held-bench ${step.view}`}>
      <CrankWheel table={table} crank={crank} strokeHidden={isCovered} turnable />
      <div className="held-views">
        {!isCovered && step.view === "section" && <SectionView table={table} crank={crank} />}
        {!isCovered && step.view === "overlap" && (
          <OverlapView table={table} crank={crank} rocking={false} onRock={nothing} />
        )}
        {!isCovered && step.view === "clearance" && (
          <ClearanceView {...{ engineId, version: null, table, crank, unit }} />
        )}
        {(isCovered || step.view === "whole") && (
          <Valves {...{ table, crank, unit, board }} bare={isCovered} />
        )}
        {!isCovered && step.view !== "clearance" && <Verdict table={table} crank={crank} />}
      </div>
      <p className="ways">
        <button
          type="button"
          className="button"
          aria-pressed={isCovered}
          onClick={() => setCovered(!isCovered)}
        >
          Cover <kbd>C</kbd>
        </button>
        <Link
          className="button"
          to={`/bench/${engineId}?at=${step.at_deg ?? 0}&view=${step.view}&room=shop&back=${back}`}
        >
          The whole Bench
        </Link>
      </p>
    </div>
  );
}
