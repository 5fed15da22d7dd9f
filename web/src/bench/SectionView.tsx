/** One cylinder cut open: what a hand at the crank would see if metal were glass. */
import { useMemo, useRef } from "react";
import { useSearchParams } from "react-router";
import type { Schemas } from "../api/client";
import { Badge } from "../app/Badge";
import { Choice } from "../app/Choice";
import { beside, degrees, mm, thou } from "../app/lengths";
import { type Crank, usePaint, useTold, useWords } from "./crank";
import {
  type Cylinder,
  cycleDeg,
  cylinderOf,
  fullyOpenDeg,
  sampled,
  segmentAt,
  type Table,
  type Valve,
  valveNow,
} from "./lookup";
import {
  brakeOver,
  type Chamber,
  chamberOf,
  type Frame,
  frameOf,
  type Gear,
  gearIn,
  profilePath,
  SQUISH_MM,
  valvePath,
} from "./sectionGeometry";
import { castingPath, coilPath, pistonPath, wall } from "./sectionPaths";
import { useDragTurn } from "./useDragTurn";
import "./section.css";

/** The gap beside the drawing: some twenty times as large as the drawing is on a desk. */
const LENS_PX_PER_MM = 28;
/** More cylinders than this are chosen from a list. */
const MOST_SIDE_BY_SIDE = 8;
/** With more marks than this the pulley has no room for their letters. */
const MOST_LETTERED = 6;
/** A letter on the pulley takes so much of its rim. */
const LETTER_DEG = 30;
/** A brake rocker's gap would fill the page. */
const LENS_HIGH = 40;

type Cam = Schemas["CamOut"];
type Props = { table: Table; crank: Crank };
/** openDeg: the cycle angle of full lift, found once and not at every frame. */
type Shown = { valve: Valve; alike: number[]; gear: Gear; cam: Cam; openDeg: number };
/** What has a figure beside the drawing: valves of a role whose states differ have one each. */
type Listed = Pick<Shown, "valve" | "alike">;

export function SectionView({ table, crank }: Props) {
  const [search, setSearch] = useSearchParams();
  const numbers = table.engine.cylinders.map((one) => one.cylinder);
  const asked = Number(search.get("cylinder"));
  const number = numbers.includes(asked) ? asked : (numbers[0] ?? 1);
  const cylinder = cylinderOf(table, number);
  const chamber = useMemo(() => chamberOf(table.section), [table]);
  const shown = useMemo(() => shownOf(table, number, chamber), [table, number, chamber]);
  const shortMm = Math.max(...shown.map((one) => one.cam.short_mm));
  const listed = useMemo(() => listedOf(table, number), [table, number]);
  const told = useTold(crank, (_deg, cam) => placeWords(table, cylinder, cam));
  function choose(chosen: string) {
    const next = new URLSearchParams(search);
    next.set("cylinder", chosen);
    setSearch(next, { replace: true });
  }
  return (
    <section className="card section-view" aria-label="Section">
      <header>
        <h2>Section, cylinder {number}</h2>
        {numbers.length > MOST_SIDE_BY_SIDE && (
          <select
            aria-label="Cylinder"
            className="field choose-cylinder"
            value={number}
            onChange={(event) => choose(event.target.value)}
          >
            {numbers.map((one) => (
              <option key={one}>{one}</option>
            ))}
          </select>
        )}
        {numbers.length > 1 && numbers.length <= MOST_SIDE_BY_SIDE && (
          <Choice
            label="Cylinder"
            options={numbers.map((one) => ({ value: String(one), label: String(one) }))}
            value={String(number)}
            onChoose={choose}
          />
        )}
        <span className="soft">
          {table.section.to_scale ? "to scale" : "usual proportions: the file gives no sizes"} · gap
          drawn large beside it
          {shortMm >= 0.02 &&
            ` · no flat follower gives all of this lift: drawn ${mm(shortMm)} short`}
        </span>
      </header>
      <div className="section-body">
        <ul className="gaps">
          {listed.map((one) => (
            <GapLens key={one.valve.number} listed={one} table={table} crank={crank} />
          ))}
        </ul>
        <Cut key={number} {...{ table, crank, cylinder, chamber, shown }} />
      </div>
      <p role="status" className="section-place">
        {told}
      </p>
    </section>
  );
}

const ROLES = ["intake", "exhaust", "brake"];

/** The valves of a cylinder, those that move alike together: a decompressor may lift one of them. */
function listedOf(table: Table, cylinder: number): Listed[] {
  const own = table.engine.valves.filter((valve) => valve.cylinder === cylinder);
  const firsts = own.filter(
    (valve, at) => own.findIndex((other) => other.cycle === valve.cycle) === at,
  );
  return firsts
    .map((valve) => ({
      valve,
      alike: own
        .filter((other) => other.cycle === valve.cycle && other !== valve)
        .map((other) => other.number),
    }))
    .sort((one, other) => ROLES.indexOf(one.valve.role) - ROLES.indexOf(other.valve.role));
}

/** One valve of each role, the others of the role beside it in words; intake leads to the left. */
function shownOf(table: Table, cylinder: number, chamber: Chamber): Shown[] {
  const listed = listedOf(table, cylinder);
  const firsts = ROLES.flatMap((role) => listed.find((one) => one.valve.role === role) ?? []);
  const heads = firsts.filter((one) => one.valve.role !== "brake").length;
  const places = heads > 1 ? [-0.28, 0.28] : [0];
  const shown: Shown[] = [];
  for (const [at, one] of firsts.entries()) {
    const { role } = one.valve;
    const [train, cam] = [table.engine.trains[role], table.section.cams[role]];
    if (train === undefined || cam === undefined) continue;
    const where = {
      x: (places[at] ?? 0) * table.section.bore_mm,
      side: at === 0 ? (-1 as const) : (1 as const),
      boreMm: table.section.bore_mm,
      deckY: chamber.deckY,
      clearanceMm: Math.max(...(table.roles[role]?.gap_mm ?? [0])),
    };
    const exhaust = shown.find((other) => other.valve.role === "exhaust");
    const gear =
      role === "brake" && exhaust
        ? brakeOver(train, cam, exhaust.gear, where)
        : gearIn(train, cam, where);
    shown.push({ ...one, gear, cam, openDeg: fullyOpenDeg(table, role) });
  }
  return shown;
}

/** How far a drawn valve is off its seat: a brake rocker opens the exhaust valve. */
function liftedMm(table: Table, { valve }: Shown, shown: readonly Shown[], camDeg: number): number {
  const pressing = shown.filter((one) => !one.gear.hasValve && valve.role === "exhaust");
  return Math.max(
    ...[valve, ...pressing.map((one) => one.valve)].map(
      (one) => valveNow(table, one, camDeg).liftMm,
    ),
  );
}

type CutProps = Pick<Props, "table" | "crank"> & {
  cylinder: Cylinder;
  chamber: Chamber;
  shown: readonly Shown[];
  /** Whether it is turned by hand; a practice engine is turned by its own tools. */
  turnable?: boolean;
};

type OneProps = Pick<Props, "table" | "crank"> & { number: number };

/** One cylinder cut open and nothing beside it: no gaps, no figures, and nothing to drag. */
export function CylinderCut({ table, crank, number }: OneProps) {
  const chamber = useMemo(() => chamberOf(table.section), [table]);
  const shown = useMemo(() => shownOf(table, number, chamber), [table, number, chamber]);
  return (
    <Cut
      key={number}
      {...{ table, crank, chamber, shown }}
      cylinder={cylinderOf(table, number)}
      turnable={false}
    />
  );
}

function Cut({ table, crank, cylinder, chamber, shown, turnable = true }: CutProps) {
  const { section } = table;
  const frame = useMemo(
    () =>
      frameOf(
        section,
        shown.map((one) => one.gear),
      ),
    [section, shown],
  );
  const parts = useRef<Parts>({});
  const radius = section.stroke_mm / 2;
  const sense = table.engine.rotation === "clockwise" ? 1 : -1;
  usePaint(crank, (deg, cam) =>
    paint(parts.current, { table, cylinder, chamber, shown, deg, cam }),
  );
  const hold = (name: string) => (element: SVGElement | null) => {
    parts.current[name] = element;
  };
  const half = section.bore_mm / 2;
  const turning = useDragTurn(crank, sense, axisIn(frame));
  return (
    <svg
      className={turnable ? "cut" : "cut still"}
      viewBox={`${frame.left} ${frame.top} ${frame.width} ${frame.height}`}
      role="img"
      aria-label={
        turnable ? "The cylinder cut open; drag it to turn the crank" : "The cylinder cut open"
      }
      {...(turnable && turning)}
    >
      <path className="wall" d={wall(half, chamber.deckY, radius)} />
      <path className="deck" d={`M${-half - 14},${chamber.deckY}H${half + 14}`} />
      <path
        className="casting"
        d={castingPath(
          shown.map((one) => one.gear).filter((gear) => gear.hasValve),
          half,
          chamber,
        )}
      />
      <circle r={radius} className="path" />
      <path className="pointer" d={`M-7,${-radius - 30}h14l-7,11z`} />
      <g ref={hold("throw")}>
        <Pulley marks={table.engine.marks} cylinder={cylinder} radius={radius + 12} sense={sense} />
        <path className="web" d={`M-7,0L-5,${-radius}H5L7,0Z`} />
        <circle r="8" className="journal" />
      </g>
      <path ref={hold("rod")} className="con-rod" />
      <g ref={hold("piston")}>
        <path className="piston" d={pistonPath(half, chamber)} />
        <circle r="5" className="journal" />
      </g>
      <circle ref={hold("pin")} r="6" className="journal" />
      {shown.map(({ valve, gear, cam }) => (
        <g key={valve.number} className={`gear ${valve.role}`}>
          {gear.hasValve && (
            <>
              <path className="spring-coil" d={coilPath(gear, section.bore_mm)} />
              <path
                ref={hold(`valve ${valve.number}`)}
                className="valve"
                d={valvePath(gear, chamber.headMm, section.bore_mm) + gear.bridge}
              />
            </>
          )}
          <path ref={hold(`rod ${valve.number}`)} className="push-rod" d={gear.rod} />
          {gear.closing && (
            <>
              <path
                ref={hold(`closing rocker ${valve.number}`)}
                className="follower-part closing"
                d={gear.closing.rocker}
              />
              <circle
                cx={gear.closing.pivot.x}
                cy={gear.closing.pivot.y}
                r="4"
                className="journal"
              />
            </>
          )}
          <g ref={hold(`lobe ${valve.number}`)}>
            {cam.closing && <path className="cam-lobe closing" d={profilePath(cam.closing)} />}
            <path className="cam-lobe" d={profilePath(cam)} />
          </g>
          <circle cx={gear.cam.x} cy={gear.cam.y} r="3" className="journal" />
          <g ref={hold(`follower ${valve.number}`)}>
            <path className="follower-part" d={gear.follower} />
            <path className="adjuster-part" d={gear.adjuster} />
          </g>
          {gear.pivot && <circle cx={gear.pivot.x} cy={gear.pivot.y} r="4" className="journal" />}
        </g>
      ))}
    </svg>
  );
}

type PulleyProps = {
  marks: Table["engine"]["marks"];
  cylinder: Cylinder;
  radius: number;
  sense: 1 | -1;
};

/** The pulley's rim with its marks, as they stand to this cylinder's throw: it turns with it. */
function Pulley({ marks, cylinder, radius, sense }: PulleyProps) {
  const own = marks.filter((mark) => mark.on === "crank");
  const letter = radius * 0.24;
  return (
    <g className="pulley">
      <circle r={radius} />
      {own.map((mark) => {
        const deg = -sense * (mark.deg - cylinder.fire_deg);
        // Of marks that stand close together each letter lies further in than the one before.
        const level = own.filter((other) => {
          const past = (mark.deg - other.deg + 360) % 360;
          return past > 0 && past < LETTER_DEG;
        }).length;
        return (
          <g key={`${mark.label}${mark.deg}`} transform={`rotate(${deg})`}>
            <path d={`M0,${-radius + 4}V${-radius - 5}`} />
            {own.length <= MOST_LETTERED && (
              <text y={-radius + 4 + letter * (1 + level)} fontSize={letter} textAnchor="middle">
                {mark.label}
              </text>
            )}
          </g>
        );
      })}
    </g>
  );
}

type Parts = Record<string, SVGElement | null>;
type Pose = Omit<CutProps, "crank" | "turnable"> & { deg: number; cam: number };

/** The moving parts as they stand: only numbers that the server gave, put where they belong. */
function paint(parts: Parts, { table, cylinder, chamber, shown, cam }: Pose) {
  const { section } = table;
  const sense = table.engine.rotation === "clockwise" ? 1 : -1;
  const cycle = cycleDeg(cylinder, cam);
  const turn = (sense * cycle * Math.PI) / 180;
  const radius = section.stroke_mm / 2;
  const pin = { x: radius * Math.sin(turn), y: -radius * Math.cos(turn) };
  const crownY = chamber.deckY + SQUISH_MM + sampled(section.piston_mm, cycle);
  const wristY = crownY + chamber.crownMm;
  move(parts.throw, `rotate(${((sense * cycle) % 360).toFixed(1)})`);
  move(parts.pin, `translate(${pin.x.toFixed(2)},${pin.y.toFixed(2)})`);
  move(parts.piston, `translate(0,${wristY.toFixed(2)})`);
  parts.rod?.setAttribute("d", `M${pin.x.toFixed(2)},${pin.y.toFixed(2)}L0,${wristY.toFixed(2)}`);
  for (const one of shown) {
    const { valve, gear, openDeg } = one;
    const moved = gear.moves(valveNow(table, valve, cam).liftMm);
    const down = (gear.headUp ? -1 : 1) * liftedMm(table, one, shown, cam);
    move(parts[`valve ${valve.number}`], `translate(0,${down.toFixed(2)})`);
    move(parts[`rod ${valve.number}`], `translate(0,${moved.rod.toFixed(2)})`);
    const follower =
      typeof moved.follower === "number"
        ? `translate(0,${moved.follower.toFixed(2)})`
        : `rotate(${moved.follower.deg.toFixed(2)} ${moved.follower.about.x} ${moved.follower.about.y})`;
    move(parts[`follower ${valve.number}`], follower);
    if (gear.closing && moved.closingDeg !== undefined) {
      const { x, y } = gear.closing.pivot;
      move(
        parts[`closing rocker ${valve.number}`],
        `rotate(${(-moved.closingDeg).toFixed(2)} ${x} ${y})`,
      );
    }
    const past = (sense * (cycle - openDeg)) / 2;
    const facing = gear.camBelow ? past : past + 180;
    move(
      parts[`lobe ${valve.number}`],
      `translate(${gear.cam.x},${gear.cam.y}) rotate(${facing.toFixed(1)})`,
    );
  }
}

function move(part: SVGElement | null | undefined, transform: string) {
  if (part && part.getAttribute("transform") !== transform)
    part.setAttribute("transform", transform);
}

/** Where the crank's axis lies in the drawing as it is laid out, in pixels. */
function axisIn(frame: Frame) {
  return (box: DOMRect) => {
    const scale = Math.min(box.width / frame.width, box.height / frame.height);
    return {
      x: box.width / 2 - (frame.left + frame.width / 2) * scale,
      y: box.height / 2 - (frame.top + frame.height / 2) * scale,
    };
  };
}

type LensProps = Pick<Props, "table" | "crank"> & { listed: Listed };

/** The gap of one valve, large, with its figure. */
function GapLens({ listed, table, crank }: LensProps) {
  const { valve, alike } = listed;
  const between = useRef<SVGRectElement>(null);
  const edges = useRef<SVGPathElement>(null);
  const figure = useRef<HTMLElement>(null);
  const other = useRef<HTMLElement>(null);
  const says = useRef<HTMLSpanElement>(null);
  const closing = useRef<HTMLElement>(null);
  const pulled = table.roles[valve.role]?.closing_gap_mm != null;
  const part = table.engine.trains[valve.role]?.part ?? "";
  const spec = table.engine.specs?.find((one) => one.role === valve.role);
  useWords(crank, (_deg, cam) => {
    const now = valveNow(table, valve, cam);
    const opened = now.liftMm > 0;
    const own = spec?.written_in === "thou" ? thou : mm;
    put(
      figure.current,
      opened ? `open ${own(now.liftMm)}` : spec ? beside(now.gapMm, spec) : own(now.gapMm),
    );
    put(other.current, (own === mm ? thou : mm)(opened ? now.liftMm : now.gapMm));
    if (now.closingMm !== null)
      put(
        closing.current,
        spec?.closing ? beside(now.closingMm, spec.closing) : own(now.closingMm),
      );
    const edge = `${degrees(Math.abs(now.marginDeg))} ${now.marginDeg < 0 ? "off it" : "left"}`;
    put(says.current, now.settable ? `on its heel, ${edge}` : `${now.says}, ${edge}`);
  });
  usePaint(crank, (_deg, cam) => {
    const gap = Math.min(LENS_HIGH, valveNow(table, valve, cam).gapMm * LENS_PX_PER_MM);
    const [top, bottom] = [(LENS_HIGH - gap) / 2 + 4, (LENS_HIGH + gap) / 2 + 4];
    between.current?.setAttribute("y", top.toFixed(1));
    between.current?.setAttribute("height", gap.toFixed(1));
    edges.current?.setAttribute("d", `M0,${top - 1}H64M0,${bottom + 1}H64`);
  });
  return (
    <li className={valve.role}>
      <Badge number={valve.number} role={valve.role} size={40} />
      <div>
        <b ref={figure} className="figures" /> <small ref={other} className="figures soft" />
        <svg className="lens" viewBox="0 0 64 48" width="64" height="48" aria-hidden="true">
          <rect ref={between} x="6" width="52" className="lens-gap" />
          <path ref={edges} className="lens-edge" />
        </svg>
        {pulled && (
          <span className="figures lens-says">
            closing gap <b ref={closing} className="second" />
          </span>
        )}
        <span ref={says} className="lens-says" />
        <span className="soft lens-says">
          {valve.role} {part}
          {alike.length > 0 && `; valve ${alike.join(", ")} alike`}
        </span>
      </div>
    </li>
  );
}

function put(element: HTMLElement | null, text: string) {
  if (element && element.textContent !== text) element.textContent = text;
}

/** `38° past firing TDC, power`. */
function placeWords(table: Table, cylinder: Cylinder, camDeg: number): string {
  const cycle = cycleDeg(cylinder, camDeg);
  const { stroke } = segmentAt(table.segments, cycle);
  const into = cycle % 360;
  const top = cycle < 180 || cycle >= 540 ? "firing TDC" : "overlap TDC";
  const near = into <= 180 ? `${degrees(into)} past` : `${degrees(360 - into)} before`;
  return `Cylinder ${cylinder.cylinder}: ${near} ${top}, ${stroke}.`;
}
