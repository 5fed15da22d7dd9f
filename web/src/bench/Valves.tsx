/** The valves of an engine as they are drawn: side by side, or from above where a room looks at many. */
import { ValvePlan } from "./ValvePlan";
import { ValveRow, type ValveRowProps } from "./ValveRow";

export const MANY_CYLINDERS = 6;

export function Valves({ board, ...row }: ValveRowProps & { board: boolean }) {
  const { table, crank, bare, labelsDeg, below } = row;
  if (board && table.engine.firing_order.length > MANY_CYLINDERS) {
    return <ValvePlan {...{ table, crank, labelsDeg, below }} bare={bare ?? false} />;
  }
  return <ValveRow {...row} />;
}
