/** Practice engines in words: coaching levels, faults that are planted, and how a run ended. */

/** Coaching levels as people call them; files and the API keep the older codes. */
export const LEVELS: Record<string, string> = {
  shown: "Guided",
  prompted: "Prompted",
  alone: "Solo",
  test: "Test",
};

export const LEVEL_SAYS: Record<string, string> = {
  shown: "every step of the job, and why",
  prompted: "asked before a costly mistake",
  alone: "nothing is said until the end",
  test: "nothing is said until the end, and the time counts",
};

/** A level with what it means. */
export function levelInWords(level: string): string {
  return `${LEVELS[level]}: ${LEVEL_SAYS[level]}`;
}

export const FAULTS: Record<string, string> = {
  "wrong-setting": "wrongly set",
  "wrong-closing": "closing gap wrongly set",
  "worn-brake": "brake weak with its lash right",
  "bent-push-rod": "bent push rod",
  "worn-stamp": "stamp worn off",
  "seized-nut": "seized lock nut",
  "receding-valve": "valve receding into its seat",
  "worn-pad": "hollow rocker pad",
  "rod-slack": "push rod's slack to be pressed out",
  "hanging-follower": "follower to be lifted first",
  "hard-reach": "no straight leaf reaches it",
  "half-tooth": "cam half a tooth late",
  "warm-engine": "engine still warm",
  "false-mark": "dead centre marked where the spark comes",
  decompressor: "decompressor left in",
};

export const WHOLE_ENGINE = new Set(["half-tooth", "warm-engine", "false-mark", "decompressor"]);

export const STARTS: Record<string, string> = {
  quiet: "runs quietly",
  ticks: "ticks",
  "hard-to-start": "hard to start",
  "will-not-run": "will not run",
  damage: "damage",
  "time-up": "time is up",
  "rules-changed": "ended when the practice rules changed",
};
