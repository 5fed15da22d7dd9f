/** The chosen valve's cylinder cut open, as the engine stands: gaps are for the leaves to find. */
import { useEffect, useMemo } from "react";
import { Crank } from "../bench/crank";
import type { Table } from "../bench/lookup";
import { CylinderCut } from "../bench/SectionView";

type Props = { table: Table; number: number; camDeg: number };

export function CutOpen({ table, number, camDeg }: Props) {
  const crank = useMemo(() => new Crank(0), []);
  useEffect(() => {
    crank.set(camDeg);
  }, [crank, camDeg]);
  return (
    <section className="card cut-open" aria-label={`Section of cylinder ${number}`}>
      <h2>Section, cylinder {number}</h2>
      <CylinderCut table={table} crank={crank} number={number} />
      <p className="soft">
        As it stands now. Shown while everything is shown: a real engine keeps its metal on.
      </p>
    </section>
  );
}
