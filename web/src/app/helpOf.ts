/** Which page of the guide belongs to a page of the application. */

type Leads = readonly [RegExp, string];

const STUDENTS: readonly Leads[] = [
  [/^\/today/, "today"],
  [/^\/work/, "my-sheets"],
  [/^\/sheet\//, "a-reading-sheet"],
  [/^\/(practice|debrief|feel)\//, "practice-runs"],
  [/^\/drill\//, "drills"],
  [/^\/(bench|route|methods|schools|shims)\/|^\/engines/, "the-bench"],
  [/^\/me/, "me"],
  [/^\/(classes|progress)/, "my-sheets"],
];

const INSTRUCTORS: readonly Leads[] = [
  [/^\/classes\/\d+\/today/, "today"],
  [/^\/classes\/\d+\/(stands)/, "stands-and-keys"],
  [/^\/classes\/\d+\/(sheets)/, "reading-sheets"],
  [/^\/classes\/\d+\/(practice)/, "practice-engines"],
  [/^\/(classes\/\d+\/rotas|rota\/)/, "rota"],
  [/^\/classes/, "classes"],
  [/^\/engines/, "engines"],
  [/^\/bench\//, "the-bench"],
  [/^\/drill\//, "asking-the-class"],
  [/^\/(route|methods|schools)\//, "methods-and-route-cards"],
  [/^\/(shims\/|store)/, "shims"],
  [/^\/(stands|stand\/|study\/)/, "stands-and-keys"],
  [/^\/(board|hand-in|sheet|work)/, "reading-sheets"],
  [/^\/(practice|debrief|feel|run-file)/, "practice-engines"],
  [/^\/lessons?(\/|$)/, "lessons"],
  [/^\/ask/, "asking-the-class"],
  [/^\/today/, "today"],
  [/^\/progress\//, "progress"],
  [/^\/school/, "the-school"],
  [/^\/me/, "classes"],
];

/** An address under /help: of the place, or of the guide's first page. */
export function helpOf(path: string, teaches: boolean): string {
  const whose = teaches ? "instructors" : "students";
  const found = (teaches ? INSTRUCTORS : STUDENTS).find(([places]) => places.test(path));
  return `/help/${whose}/${found?.[1] ?? "start"}`;
}
