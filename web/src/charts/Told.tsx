/** One mark of a chart that tells its figures on hover, on tap and to the keyboard. */
import { Tooltip } from "antd";
import type { ReactNode } from "react";
import "./charts.css";

export function Told({ says, children }: { says: string; children: ReactNode }) {
  return (
    <Tooltip title={says} trigger={["hover", "focus", "click"]}>
      {/* biome-ignore lint/a11y/noInteractiveElementToNoninteractiveRole: a picture that keys reach for its figures */}
      <g className="told" tabIndex={0} role="img" aria-label={says}>
        {children}
      </g>
    </Tooltip>
  );
}
