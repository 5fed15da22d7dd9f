/** Words of the engine file as people say them. */

const LAYOUTS: Record<string, string> = { inline: "in line", "parallel-twin": "parallel twin" };

export function layoutWord(layout: string): string {
  return LAYOUTS[layout] ?? layout;
}

export function counted(count: number, one: string): string {
  return `${count} ${one}${count === 1 ? "" : "s"}`;
}
