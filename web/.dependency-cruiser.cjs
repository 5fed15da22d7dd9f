/** How the rooms of the front end may rest on each other; checked by `npm run arch`. */
const PLACES =
  "classes|workshop|store|drill|editor|engines|intake|marking|me|practice|progress|routecard|school|sheets|shims|study|weights|feel|asking|today|lessons|help";
const SHARED = "bench|marks|safety";

module.exports = {
  forbidden: [
    { name: "no-circle", severity: "error", from: {}, to: { circular: true } },
    {
      name: "ground-knows-no-room",
      comment: "api/ and app/ are ground: nothing of what stands on them.",
      severity: "error",
      from: { path: "^src/(api|app)/", pathNot: "\\.test\\." },
      to: { path: `^src/(kit|charts|${SHARED}|${PLACES})/|^src/App` },
    },
    {
      name: "api-below-app",
      severity: "error",
      from: { path: "^src/api/", pathNot: "\\.test\\." },
      to: { path: "^src/app/" },
    },
    {
      name: "kit-knows-no-place",
      severity: "error",
      from: { path: "^src/(kit|charts)/" },
      to: { path: `^src/(${SHARED}|${PLACES})/` },
    },
    {
      name: "shared-knows-no-place",
      comment: "The Bench, marks and safety are used by places, never the other way round.",
      severity: "error",
      from: { path: `^src/(${SHARED})/`, pathNot: "\\.test\\." },
      to: { path: `^src/(${PLACES})/` },
    },
    {
      name: "places-know-no-routes",
      severity: "error",
      from: { path: "^src/.+/" },
      to: { path: "^src/(App|main)\\." },
    },
    {
      name: "desk-stays-on-the-desk",
      comment: "Ant Design's heavy parts stay on the desk: a phone's sheet must not load its table.",
      severity: "error",
      from: { path: `^src/(app|bench|marks|me|safety|sheets|practice|drill|routecard|shims)/` },
      to: { path: "^src/kit/(DataTable|Desk|Panel)" },
    },
  ],
  options: {
    doNotFollow: { path: "node_modules" },
    tsConfig: { fileName: "tsconfig.json" },
    tsPreCompilationDeps: true,
    exclude: { path: "src/api/schema\\.d\\.ts|src/testing/" },
  },
};
