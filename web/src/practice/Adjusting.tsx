/** What can be done at the chosen valve: nut and screw, or shim; and cams, where they are in the way. */

import { useState } from "react";
import { Link } from "react-router";
import type { GapKind } from "../api/queries";
import { Field } from "../app/Field";
import { figureOf } from "../app/figures";
import type { Action, View } from "./useRun";

type Act = (action: Action) => unknown;
type Props = {
  valve: number;
  role: string;
  /** Its kind as the engine file names it. */
  adjuster: string;
  torqueNm: number | null;
  /** What is stamped on its shims, where stamps are no sizes. */
  codes: Record<string, number>;
  /** Whether the cams have to come out to change its shim. */
  camsOut: boolean;
  /** Where its shim lies; null where it has none. */
  place: string | null;
  gap: GapKind;
  /** What there is to wiggle; null where there is nothing. */
  wiggled: string | null;
  view: View;
  /** Turns the screw until what is in the hand drags. */
  setByLeaf: (pressing: boolean) => void;
  act: Act;
  /** Where the shim table of this engine is. */
  shimsAt: string;
};

export function Adjusting(props: Props) {
  const { valve, role, adjuster, act } = props;
  return (
    <section className="card adjusting" aria-label={`Adjust valve ${valve}`}>
      <h2>
        Valve {valve}, {role}
      </h2>
      <div className="ways">
        {props.gap === "closing" && (
          <button
            type="button"
            className="button"
            onClick={() => act({ do: "wiggle", valve, gap: "closing" })}
          >
            Turn its closing shim <kbd>W</kbd>
          </button>
        )}
        {props.wiggled !== null && props.gap !== "closing" && (
          <button type="button" className="button" onClick={() => act({ do: "wiggle", valve })}>
            Wiggle its {props.wiggled} <kbd>W</kbd>
          </button>
        )}
      </div>
      {adjuster === "screw" && <ScrewWays {...props} />}
      {props.gap === "running" && (
        <p className="soft">
          The running gap is proved, not set: a small stack goes, a large one does not. The screw
          sets the lash at the stop.
        </p>
      )}
      {adjuster === "shim" && <ShimWays {...props} />}
      {adjuster === "hydraulic" && (
        <p className="soft">
          Hydraulic follower: no clearance to set. Check its preload where the manual asks for it.
        </p>
      )}
      {adjuster === "none" && <p className="soft">The engine file gives no adjuster.</p>}
    </section>
  );
}

function ScrewWays({ valve, torqueNm, view, setByLeaf, act }: Props) {
  const [degrees, setDegrees] = useState("");
  const [torque, setTorque] = useState(
    torqueNm === null ? "" : String(Number(torqueNm.toFixed(1))),
  );
  const [pressing, setPressing] = useState(false);
  const tight = view.valves.find((one) => one.valve === valve)?.nut_tight ?? true;
  const by = figureOf(degrees) ?? 0;
  const newtonMetres = figureOf(torque) ?? 0;
  return (
    <>
      <h3>Lock nut: {tight ? "tight" : "loose"}</h3>
      <div className="ways">
        <button type="button" className="button" onClick={() => act({ do: "loosen", valve })}>
          Loosen <kbd>L</kbd>
        </button>
        <button
          type="button"
          className="button"
          onClick={() => act({ do: "loosen", valve, oil: true })}
        >
          Oil and loosen
        </button>
        <button type="button" className="button" onClick={() => act({ do: "tighten", valve })}>
          Tighten by hand <kbd>⇧L</kbd>
        </button>
        <span className="by">
          <Field label="Torque in N·m" value={torque} onChange={setTorque} most={5} />
          <button
            type="button"
            className="button"
            disabled={!(newtonMetres > 0)}
            onClick={() => act({ do: "tighten", valve, torque_nm: newtonMetres })}
          >
            Tighten to N·m
          </button>
        </span>
      </div>
      <h3>Screw</h3>
      <div className="ways">
        <button type="button" className="button main" onClick={() => setByLeaf(pressing)}>
          Turn until the leaf drags <kbd>S</kbd>
        </button>
        <label className="tick-line">
          <input
            type="checkbox"
            checked={pressing}
            onChange={(event) => setPressing(event.target.checked)}
          />
          pressing on the screwdriver
        </label>
        <button type="button" className="button" onClick={() => act({ do: "zero", valve })}>
          To zero <kbd>Z</kbd>
        </button>
        <span className="by">
          <Field
            label="Degrees of the screw"
            value={degrees}
            onChange={setDegrees}
            placeholder="36"
          />
          <button
            type="button"
            className="button"
            disabled={!(by > 0)}
            onClick={() => act({ do: "screw", valve, by_deg: by })}
          >
            In
          </button>
          <button
            type="button"
            className="button"
            disabled={!(by > 0)}
            onClick={() => act({ do: "screw", valve, by_deg: -by })}
          >
            Out
          </button>
        </span>
      </div>
    </>
  );
}

function ShimWays({ valve, gap, codes, camsOut, place, view, act, shimsAt }: Props) {
  const [size, setSize] = useState("");
  const [faceDown, setFaceDown] = useState(true);
  const seen = view.valves.find((one) => one.valve === valve);
  const closing = gap === "closing";
  const overBucket = place === "over-bucket" && !closing;
  const called = closing ? "closing shim" : "shim";
  const out = closing ? seen?.closing_shim_out : seen?.shim_out;
  const aside = closing ? seen?.closing_shim_aside : seen?.shim_aside;
  const stamped = closing ? undefined : codes[size.trim()];
  const sizeUm = Math.round((stamped ?? figureOf(size) ?? 0) * 1000);
  return (
    <>
      <h3>
        {closing ? "Closing shim" : "Shim"}: {out ? "out" : "in"}
      </h3>
      {closing && (
        <p className="soft">
          Closing first: it moves where the valve rests, and so the opening gap too.
        </p>
      )}
      <div className="ways">
        <button
          type="button"
          className="button"
          onClick={() => act({ do: "take-shim", valve, gap })}
        >
          Take the {called} out
        </button>
        {(["stamp", "micrometer"] as const).map((by) => (
          <button
            key={by}
            type="button"
            className="button"
            disabled={!aside}
            onClick={() => act({ do: "read-shim", valve, by, gap })}
          >
            {by === "stamp" ? "Read the stamp" : "Micrometer"}
          </button>
        ))}
      </div>
      <div className="ways">
        <span className="by">
          <Field
            label={`${closing ? "Closing shim" : "Shim"} to fit, in mm`}
            value={size}
            onChange={setSize}
            placeholder={closing ? "7.10" : "2.65"}
            list="shim-box"
          />
          <button
            type="button"
            className="button main"
            disabled={!(sizeUm > 0)}
            onClick={() =>
              act({ do: "fit-shim", valve, size_um: sizeUm, face_down: faceDown, gap })
            }
          >
            Fit this {called}
          </button>
        </span>
        {overBucket && (
          <label className="tick-line">
            <input
              type="checkbox"
              checked={faceDown}
              onChange={(event) => setFaceDown(event.target.checked)}
            />
            printed face down, away from the cam
          </label>
        )}
      </div>
      <datalist id="shim-box">
        {[...new Set(closing ? view.closing_box_um : view.box_um)].map((um) => (
          <option key={um} value={(um / 1000).toFixed(um % 10 ? 3 : 2)} />
        ))}
      </datalist>
      <p className="sum soft">
        new shim = fitted shim + measured gap − wanted gap. Too small a gap needs a thinner shim.{" "}
        <Link to={shimsAt} target="_blank">
          Table and arithmetic
        </Link>
      </p>
      {(camsOut || view.cams_out || view.crank_locked) && <CamWays view={view} act={act} />}
    </>
  );
}

function CamWays({ view, act }: Pick<Props, "view" | "act">) {
  return (
    <>
      <h3>
        Cams {view.cams_out ? "out" : "in"}, crank {view.crank_locked ? "locked" : "free"}
      </h3>
      <div className="ways">
        <button
          type="button"
          className="button"
          onClick={() => act({ do: "lock-crank", locked: !view.crank_locked })}
        >
          {view.crank_locked ? "Free the crank" : "Lock the crank"}
        </button>
        <button
          type="button"
          className="button"
          onClick={() => act({ do: "cams", out: !view.cams_out })}
        >
          {view.cams_out ? "Cams in" : "Cams out"}
        </button>
      </div>
    </>
  );
}
