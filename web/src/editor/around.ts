/** What the manual says around the clearances, as it is typed and as the file has it. */
import { figure, text } from "./typed";

// biome-ignore lint/suspicious/noExplicitAny: an engine file comes as JSON that the core has read
type Json = any;

export type Around = {
  /** Of all valves; empty: not said; mixed: role by role. */
  train: string;
  /** Of the cam sprocket, and how many of them a cam mark may be off. */
  camDrive: { teeth: string; allow: string };
  ignition: IgnitionForm;
  torques: TorqueForm[];
  /** One on a line, as are tools. */
  parts: string;
  tools: string;
  interval: { hours: string; km: string; months: string; first_hours: string };
  /** The file that was opened: what it says besides is carried through. */
  source: Record<string, unknown>;
};

export type IgnitionForm = {
  kind: "" | "spark" | "compression";
  distributor: boolean;
  start: string[];
  stop: string;
  lever: boolean;
};
export type TorqueForm = { what: string; figure: string; unit: "nm" | "lb_ft" | "lb_in" };
export const TORQUE_UNITS = [
  ["nm", "N·m"],
  ["lb_ft", "lb·ft"],
  ["lb_in", "lb·in"],
] as const;

/** These parts of the engine file, with whatever is typed in them. */
export function around(form: Around & { roles: RoleTrains }, roles: readonly string[]) {
  const { ignition, interval, camDrive } = form;
  const bridged = roles.filter((role) => form.roles[role]?.bridged);
  const lines = (typed: string) => {
    const given = typed.split("\n").map((line) => line.trim());
    return given.some(Boolean) ? given.filter(Boolean) : undefined;
  };
  const every = Object.entries(interval).filter(([, typed]) => typed.trim() !== "");
  return {
    valve_train: form.train === "mixed" ? trains(form, roles) : form.train || undefined,
    bridges: bridged.length ? bridged : undefined,
    cam_drive: camDrive.teeth.trim()
      ? { sprocket_teeth: figure(camDrive.teeth), allow_teeth: figure(camDrive.allow) }
      : undefined,
    ignition:
      ignition.kind === ""
        ? undefined
        : {
            kind: ignition.kind,
            distributor: (ignition.kind === "spark" && ignition.distributor) || undefined,
            start: ignition.start.length ? ignition.start : undefined,
            stop: ignition.stop || undefined,
            decompression_lever: ignition.lever || undefined,
          },
    torques: form.torques.length
      ? form.torques.map((row) => ({ what: row.what, [row.unit]: figure(row.figure) }))
      : undefined,
    parts: lines(form.parts),
    tools: lines(form.tools),
    interval: every.length
      ? Object.fromEntries(every.map(([name, typed]) => [name, figure(typed)]))
      : undefined,
  };
}

type RoleTrains = { [role: string]: { train: string; bridged: boolean } };

function trains(form: { roles: RoleTrains }, roles: readonly string[]) {
  const given = roles.flatMap((role) => {
    const train = form.roles[role]?.train;
    return train ? [[role, train] as const] : [];
  });
  return given.length ? Object.fromEntries(given) : undefined;
}

/** What to type to get them. */
export function aroundOf(document: Json) {
  const { valve_train: train, ignition, torques, parts, tools, interval } = document;
  return {
    train: typeof train === "object" ? "mixed" : text(train),
    camDrive: {
      teeth: text(document.cam_drive?.sprocket_teeth),
      allow: text(document.cam_drive?.allow_teeth),
    },
    ignition: {
      kind: ignition?.kind ?? "",
      distributor: ignition?.distributor ?? false,
      start: ignition?.start ?? [],
      stop: ignition?.stop ?? "",
      lever: ignition?.decompression_lever ?? false,
    },
    torques: (torques ?? []).map((row: Json) => {
      const unit = TORQUE_UNITS.map(([name]) => name).find((name) => name in row) ?? "nm";
      return { what: text(row.what), figure: text(row[unit]), unit };
    }),
    parts: (parts ?? []).join("\n"),
    tools: (tools ?? []).join("\n"),
    interval: {
      hours: text(interval?.hours),
      km: text(interval?.km),
      months: text(interval?.months),
      first_hours: text(interval?.first_hours),
    },
  };
}
