/** The sheet that a chart is drawn on: as wide as its place, with a name for those who listen. */
import type { ReactNode } from "react";
import { useWidth } from "./useWidth";
import "./charts.css";

type Props = {
  title: string;
  height: number;
  /** Narrower than this, the chart scrolls inside its place. */
  least?: number;
  className?: string;
  children: (width: number) => ReactNode;
};

const AXIS_ROOM = 56;
/** Before the first measuring, and where nothing is laid out. */
const UNMEASURED = 640;

export function Plot({ title, height, least = 0, className = "", children }: Props) {
  const [frame, measured] = useWidth<HTMLDivElement>();
  const width = Math.max(measured || UNMEASURED, least);
  return (
    <div ref={frame} className="plot">
      {/* biome-ignore lint/a11y/useSemanticElements: a drawing with marks that can be asked */}
      <svg className={`chart ${className}`} width={width} height={height + AXIS_ROOM} role="group">
        <title>{title}</title>
        {children(width)}
      </svg>
    </div>
  );
}
