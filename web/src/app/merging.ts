/** Two devices' texts of one form put together, field by field; nothing of either is wiped. */

export type Fields = Record<string, unknown>;
/** A field that both changed, each to something else. field is its path: `roles.intake.opens`. */
export type Clash = { field: string; mine: unknown; theirs: unknown };
export type Merged<T> = { typed: T; clashes: Clash[] };

/** What is typed here, with what the other device changed since both had base. */
export function merged<T extends Fields>(mine: T, base: Fields, theirs: Fields): Merged<T> {
  const [own, was, there] = [leavesOf(mine), leavesOf(base), leavesOf(theirs)];
  const typed = structuredClone(mine);
  const clashes: Clash[] = [];
  for (const field of new Set([...own.keys(), ...was.keys(), ...there.keys()])) {
    const [here, before, other] = [own.get(field), was.get(field), there.get(field)];
    if (same(here, other) || same(other, before)) continue;
    if (same(here, before)) write(typed, field, other);
    else clashes.push({ field, mine: here, theirs: other });
  }
  return { typed, clashes };
}

/** The same form with one field as given; undefined takes it out. */
export function withField<T extends Fields>(typed: T, field: string, value: unknown): T {
  const changed = structuredClone(typed);
  write(changed, field, value);
  return changed;
}

export function same(one: unknown, other: unknown): boolean {
  return JSON.stringify(one) === JSON.stringify(other);
}

/** Lists count as one field: what stands in them has no name of its own. */
function leavesOf(fields: Fields, path = "", found = new Map<string, unknown>()) {
  for (const [name, value] of Object.entries(fields)) {
    if (isFields(value)) leavesOf(value, `${path}${name}.`, found);
    else found.set(path + name, value);
  }
  return found;
}

function write(fields: Fields, path: string, value: unknown) {
  const names = path.split(".");
  const last = names.pop() ?? path;
  let at = fields;
  for (const name of names) {
    const inside = at[name];
    at[name] = isFields(inside) ? inside : {};
    at = at[name] as Fields;
  }
  if (value === undefined) delete at[last];
  else at[last] = value;
}

function isFields(value: unknown): value is Fields {
  return typeof value === "object" && value !== null && !Array.isArray(value);
}
