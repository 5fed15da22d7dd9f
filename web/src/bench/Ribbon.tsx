/** The cycle ribbon: 720 degrees wide, a row for each cylinder in firing order, a cursor to drag. */
import { type PointerEvent, useMemo, useRef } from "react";
import { degrees } from "../app/lengths";
import { useMedia } from "../app/useMedia";
import { useWidth } from "../charts/useWidth";
import { type Crank, usePaint, useTold, useWords } from "./crank";
import { leanDeg, liftArea, stateStrips, strokePieces } from "./geometry";
import {
  CYCLE_DEG,
  type Cylinder,
  cycleDeg,
  cylinderOf,
  sampled,
  segmentAt,
  type Table,
} from "./lookup";
import "./ribbon.css";

const TOP = 22;
const BOTTOM = 36;
const STRIP = 6;
const LABEL_PX = 76;
const ROOM_FOR_NAME_PX = 92;
/** From this height a row has room for the cylinder above its stroke. */
const TALL_PX = 50;

type RibbonProps = { table: Table; crank: Crank; large?: boolean };

export function Ribbon({ table, crank, large = false }: RibbonProps) {
  const [frame, width] = useWidth<HTMLDivElement>();
  const cursor = useRef<HTMLDivElement>(null);
  const camCursor = useRef<HTMLDivElement>(null);
  const label = useRef<HTMLDivElement>(null);
  const slider = useRef<HTMLDivElement>(null);
  const count = table.engine.firing_order.length;
  // Large where the screen is high enough for it: a low projector shows the valves as well.
  const isHigh = useMedia("(min-height: 800px)");
  const rowHeight = rowHeightFor(count) * (large && isHigh ? 1.25 : 1);
  const height = TOP + count * rowHeight + BOTTOM;

  usePaint(crank, (deg, cam) => {
    const px = width / CYCLE_DEG;
    // What moves lies in layers of its own, so that the drawing under it is not made again.
    moveTo(cursor.current, deg * px);
    moveTo(camCursor.current, cam * px);
    const together = cam === deg;
    if (camCursor.current && camCursor.current.hidden !== together) {
      camCursor.current.hidden = together;
    }
    if (label.current) {
      label.current.textContent = `${deg.toFixed(1)}°`;
      // The label stays inside the ribbon at both ends.
      moveTo(label.current, Math.max(LABEL_PX / 2, Math.min(width - LABEL_PX / 2, deg * px)));
    }
    slider.current?.setAttribute("aria-valuenow", deg.toFixed(1));
  });
  useWords(crank, (deg) => {
    slider.current?.setAttribute("aria-valuetext", spoken(table, deg));
  });

  function drag(event: PointerEvent<HTMLDivElement>) {
    const left = event.currentTarget.getBoundingClientRect().left;
    const share = Math.max(0, Math.min(1, (event.clientX - left) / Math.max(1, width)));
    crank.drag(Math.min(share * CYCLE_DEG, CYCLE_DEG - 0.1));
  }

  return (
    <section
      className={rowHeight >= TALL_PX ? "card ribbon" : "card ribbon narrow-rows"}
      aria-label="Cycle ribbon"
    >
      <div className="ribbon-names" style={{ paddingTop: TOP, gridAutoRows: rowHeight }}>
        {table.engine.firing_order.map((number) => (
          <RowName
            key={number}
            table={table}
            crank={crank}
            cylinder={number}
            tall={rowHeight >= TALL_PX}
          />
        ))}
      </div>
      <div
        className="ribbon-band"
        ref={(node) => {
          slider.current = node;
          frame.current = node;
        }}
        role="slider"
        tabIndex={0}
        aria-label="Crank angle"
        aria-valuemin={0}
        aria-valuemax={CYCLE_DEG}
        aria-valuenow={0}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          drag(event);
        }}
        onPointerMove={(event) => {
          if (event.currentTarget.hasPointerCapture(event.pointerId)) drag(event);
        }}
      >
        <svg width={width} height={height} aria-hidden="true">
          <Hatches />
          <Rows table={table} width={width} rowHeight={rowHeight} />
        </svg>
        <div ref={camCursor} className="cursor-layer cam-cursor" hidden>
          <svg width={20} height={height} viewBox={`-10 0 20 ${height}`} aria-hidden="true">
            <path d={`M0,${TOP - 6}V${height - BOTTOM + 2}`} />
          </svg>
        </div>
        <div ref={cursor} className="cursor-layer cursor">
          <svg width={20} height={height} viewBox={`-10 0 20 ${height}`} aria-hidden="true">
            <path d={`M0,${TOP - 6}V${height - BOTTOM + 8}`} />
            <path d={`M-8,${height - BOTTOM + 14}h16l-8,-11z`} className="grip" />
          </svg>
        </div>
        <div ref={label} className="cursor-label figures" aria-hidden="true" />
      </div>
    </section>
  );
}

function moveTo(layer: HTMLElement | null, x: number) {
  if (layer) layer.style.transform = `translateX(${x.toFixed(1)}px)`;
}

/** Few cylinders share the room that many fill. */
const ROOM_PX = 268;

function rowHeightFor(count: number): number {
  if (count <= 4) return Math.floor(ROOM_PX / count);
  return count <= 6 ? 44 : Math.max(30, Math.floor(270 / count));
}

function spoken(table: Table, deg: number): string {
  const strokes = table.engine.firing_order.map((number) => {
    const segment = segmentAt(table.segments, cycleDeg(cylinderOf(table, number), deg));
    return `cylinder ${number} ${segment.overlap ? "overlap" : segment.stroke}`;
  });
  return `${degrees(deg)}: ${strokes.join(", ")}`;
}

type RowNameProps = { table: Table; crank: Crank; cylinder: number; tall: boolean };

function RowName({ table, crank, cylinder, tall }: RowNameProps) {
  const place = cylinderOf(table, cylinder);
  const told = useTold(crank, (deg) => {
    const segment = segmentAt(table.segments, cycleDeg(place, deg));
    return segment.overlap ? "overlap" : segment.stroke;
  });
  return (
    <div className={tall ? "row-name tall" : "row-name"}>
      <span className="row-cylinder">
        <b>{cylinder}</b>
        <Piston table={table} crank={crank} cylinder={place} />
      </span>
      <span className="row-stroke" data-overlap={told === "overlap"}>
        {told}
      </span>
    </div>
  );
}

const BORE = { width: 20, height: 24, piston: 9 };

/** The cylinder as it lies, with its piston at its height; nothing where the file gives no sizes. */
function Piston({ table, crank, cylinder }: { table: Table; crank: Crank; cylinder: Cylinder }) {
  const piston = useRef<SVGRectElement>(null);
  const drawnAt = useRef(Number.NaN);
  const { piston_mm: heights, engine } = table;
  const bank = engine.banks.findIndex((numbers) => numbers.includes(cylinder.cylinder));
  const lean = leanDeg(engine.layout, Math.max(0, bank), engine.banks.length);
  usePaint(crank, (deg) => {
    if (heights === null) return;
    const down = sampled(heights, cycleDeg(cylinder, deg)) / (engine.stroke_mm ?? 1);
    // In half pixels: most pistons of many stand still from one frame to the next.
    const y = Math.round(2 + 2 * down * (BORE.height - BORE.piston - 2)) / 2;
    if (drawnAt.current === y) return;
    drawnAt.current = y;
    piston.current?.setAttribute("y", String(y));
  });
  if (heights === null) return null;
  return (
    <div className="piston">
      <svg width="30" height="30" aria-hidden="true">
        <g
          transform={`translate(15,15) rotate(${lean}) translate(${-BORE.width / 2},${-BORE.height / 2})`}
        >
          <path d={`M1,${BORE.height}V0h${BORE.width - 2}V${BORE.height}`} className="bore" />
          <rect ref={piston} x="3" width={BORE.width - 6} height={BORE.piston} />
        </g>
      </svg>
    </div>
  );
}

/** Everything that does not move, drawn once for a width. */
function Rows({ table, width, rowHeight }: { table: Table; width: number; rowHeight: number }) {
  const rows = useMemo(() => {
    const fullMm = Math.max(...table.engine.specs.map((spec) => spec.lift_mm));
    return table.engine.firing_order.map((number, index) => {
      const cylinder = cylinderOf(table, number);
      const roles = [...new Set(rolesOf(table, number))];
      const baseline = TOP + (index + 1) * rowHeight - 6 - roles.length * STRIP;
      // Below the curve stand the strips; above it, something of the row before.
      const height = rowHeight > TALL_PX ? rowHeight - roles.length * STRIP - 14 : rowHeight * 0.55;
      const box = { width, baseline, height, fullMm };
      return { number, cylinder, baseline, roles, box };
    });
  }, [table, width, rowHeight]);
  const px = width / CYCLE_DEG;
  return (
    <>
      {[0, 90, 180, 270, 360, 450, 540, 630, 720].map((deg) => (
        <path
          key={deg}
          className={deg % 180 === 0 ? "grid strong" : "grid"}
          d={`M${deg * px},${TOP - 4}V${TOP + rows.length * rowHeight}`}
        />
      ))}
      {[0, 180, 360, 540, 720].map((deg) => (
        <text
          key={deg}
          className="scale figures"
          x={deg * px}
          y={13}
          textAnchor={deg === 0 ? "start" : deg === 720 ? "end" : "middle"}
        >
          {deg}°
        </text>
      ))}
      {rows.map((row) => (
        <g key={row.number}>
          {row.roles.map((role) => (
            <path
              key={role}
              className={`lift ${role}`}
              d={liftArea(table.roles[role]?.lift_mm ?? [], row.cylinder, row.box)}
            />
          ))}
          {rowHeight >= 44 && (
            <StrokeNames fire={row.cylinder.fire_deg} y={row.baseline - 7} px={px} />
          )}
          {row.roles.map((role, place) =>
            stateStrips(table.segments, row.cylinder, role, width).map((strip) => (
              <rect
                key={`${role}${strip.x}`}
                className={`strip ${role} ${strip.state}`}
                x={strip.x}
                width={strip.width}
                y={row.baseline + 1.5 + place * STRIP}
                height={STRIP - 1.5}
              />
            )),
          )}
          <path
            className="fires"
            d={`M${row.cylinder.fire_deg * px},${row.baseline - 10}l6,10h-12z`}
          />
        </g>
      ))}
    </>
  );
}

function rolesOf(table: Table, cylinder: number): string[] {
  return table.engine.valves.filter((v) => v.cylinder === cylinder).map((v) => v.role);
}

function StrokeNames({ fire, y, px }: { fire: number; y: number; px: number }) {
  return strokePieces(fire).map(({ stroke, from, to }) =>
    (to - from) * px < ROOM_FOR_NAME_PX ? null : (
      <text
        key={stroke + from}
        className="stroke-name"
        x={((from + to) / 2) * px}
        y={y}
        textAnchor="middle"
      >
        {stroke}
      </text>
    ),
  );
}

/** Hatching for the ramp, in each role's ink. */
export function Hatches() {
  return (
    <defs>
      {["intake", "exhaust", "brake"].map((role) => (
        <pattern
          key={role}
          id={`hatch-${role}`}
          className={role}
          width="4"
          height="4"
          patternUnits="userSpaceOnUse"
          patternTransform="rotate(45)"
        >
          <rect width="4" height="4" fill="var(--card)" />
          <path d="M0 0V4" stroke="var(--role)" strokeWidth="3" />
        </pattern>
      ))}
    </defs>
  );
}
