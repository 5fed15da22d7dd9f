/** The further columns of a sheet, as the server names them. Pure. */
import type { Schemas } from "../api/client";

/** What stands in a column, as people read it. */
export function toldOf(column: Schemas["ColumnOut"], text: string): string {
  return column.options.find((option) => option.value === text)?.title ?? text;
}
