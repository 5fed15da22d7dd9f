/** An axis with its ticks, its title and its unit, drawn by d3 inside a chart of ours. */
import { type AxisDomain, type AxisScale, axisBottom, axisLeft } from "d3-axis";
import { select } from "d3-selection";
import { useLayoutEffect, useRef } from "react";
import "./charts.css";

type Props<Domain extends AxisDomain> = {
  side: "bottom" | "left";
  scale: AxisScale<Domain>;
  /** With the unit: “bias, mm”. */
  title: string;
  ticks?: number;
  /** A tick as it is written. */
  write?: (value: Domain) => string;
  /** Where the axis lies: how far down, or how far right, in pixels. */
  at: number;
};

export function Axis<Domain extends AxisDomain>(props: Props<Domain>) {
  const { side, scale, title, ticks = 6, write, at } = props;
  const group = useRef<SVGGElement>(null);
  useLayoutEffect(() => {
    if (group.current === null) return;
    const axis = (side === "bottom" ? axisBottom(scale) : axisLeft(scale)).ticks(ticks);
    select(group.current).call(write ? axis.tickFormat(write) : axis);
  }, [side, scale, ticks, write]);
  const range = scale.range();
  const [from = 0, to = 0] = [range[0], range.at(-1)];
  const middle = (from + to) / 2;
  return (
    <g className="axis" transform={side === "bottom" ? `translate(0,${at})` : `translate(${at},0)`}>
      {/* d3 draws into this group of its own; React never looks inside. */}
      <g ref={group} />
      <text
        className="axis-title"
        textAnchor="middle"
        transform={
          side === "bottom" ? `translate(${middle},42)` : `translate(-60,${middle}) rotate(-90)`
        }
      >
        {title}
      </text>
    </g>
  );
}
