/** A plain table for short lists on a phone, which antd's would make heavy; scrolls inside itself. */
import type { ReactNode } from "react";

type Column<Row> = {
  title: string;
  show: (row: Row) => ReactNode;
  /** Figures and buttons stand at the right. */
  right?: boolean;
};

type Props<Row> = {
  label: string;
  rows: readonly Row[];
  keyOf: (row: Row) => number | string;
  columns: readonly Column<Row>[];
};

export function ListTable<Row>({ label, rows, keyOf, columns }: Props<Row>) {
  return (
    <div className="list-table card">
      <table aria-label={label}>
        <thead>
          <tr>
            {columns.map((column) => (
              <th key={column.title} scope="col" className={column.right ? "right" : undefined}>
                {column.title}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr key={keyOf(row)}>
              {columns.map((column) => (
                <td key={column.title} className={column.right ? "right" : undefined}>
                  {column.show(row)}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
