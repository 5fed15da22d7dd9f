/** The one table of lists: searched where it is long, sorted by its headings, filtered, and paged. */

import { Button, Input, Table, type TableColumnType } from "antd";
import { type ComponentProps, type ReactNode, useMemo, useState } from "react";
import { inOrder } from "../app/school";

export type DataColumn<Row> = {
  title: string;
  show: (row: Row) => ReactNode;
  /** Figures and buttons stand at the right. */
  right?: boolean;
  /** What it is sorted by; without it the heading does nothing. Blanks come last. */
  sort?: (row: Row) => number | string | null;
  /** What it can be filtered by. */
  filter?: (row: Row) => string;
  /** What the search box looks through. */
  find?: (row: Row) => string;
};

type Props<Row> = {
  label: string;
  rows: readonly Row[];
  keyOf: (row: Row) => number | string;
  columns: readonly DataColumn<Row>[];
  /** What stands there while the list is empty. */
  empty?: ReactNode;
  /** Which rows are out of the way: shown when asked for. */
  away?: (row: Row) => boolean;
  /** What they are called: “put away”, where nothing else is said. */
  awayWord?: string;
};

const SEARCHED_FROM = 9;
/** Rows on one page: a class of thirty is in sight, a list of two hundred is not drawn at once. */
const PAGE = 30;

export function DataTable<Row extends object>(props: Props<Row>) {
  const { label, rows: all, keyOf, columns, empty, away, awayWord = "put away" } = props;
  const [typed, setTyped] = useState("");
  const [asked, setAsked] = useState(false);
  const out = away ? all.filter(away).length : 0;
  const rows = useMemo(
    () => (away ? all.filter((row) => away(row) === (asked && out > 0)) : all),
    [all, away, asked, out],
  );
  const searched = columns.some((column) => column.find) && rows.length >= SEARCHED_FROM;
  const found = useMemo(() => matching(rows, columns, typed), [rows, columns, typed]);
  const shown = useMemo(() => columns.map((column) => columnOf(column, rows)), [columns, rows]);
  const parts = useMemo(() => ({ table: named(label) }), [label]);
  return (
    <div className="data-table">
      {(searched || out > 0) && (
        <div className="find">
          {searched && (
            <Input.Search
              allowClear
              value={typed}
              placeholder={`Find in ${label.toLowerCase()}`}
              aria-label={`Find in ${label.toLowerCase()}`}
              onChange={(event) => setTyped(event.target.value)}
            />
          )}
          <span className="soft" role="status">
            {searched && typed.trim() !== "" && `${found.length} of ${rows.length}`}
          </span>
          {out > 0 && (
            <Button type="link" onClick={() => setAsked(!asked)}>
              {asked ? "Back to the list" : `${out} ${awayWord}`}
            </Button>
          )}
        </div>
      )}
      <Table
        dataSource={found}
        rowKey={keyOf}
        columns={shown}
        components={parts}
        size="middle"
        scroll={{ x: "max-content" }}
        pagination={
          rows.length > PAGE && { defaultPageSize: PAGE, pageSizeOptions: [PAGE, 60, 200] }
        }
        locale={empty === undefined ? {} : { emptyText: empty }}
        showSorterTooltip={false}
      />
    </div>
  );
}

function matching<Row>(rows: readonly Row[], columns: readonly DataColumn<Row>[], typed: string) {
  const wanted = typed.trim().toLowerCase();
  if (wanted === "") return [...rows];
  return rows.filter((row) =>
    columns.some((column) => column.find?.(row).toLowerCase().includes(wanted)),
  );
}

function columnOf<Row>(column: DataColumn<Row>, rows: readonly Row[]): TableColumnType<Row> {
  const { title, show, right, sort, filter } = column;
  const values = filter ? [...new Set(rows.map(filter))].sort(inOrder) : [];
  return {
    key: title,
    title,
    render: (_, row) => show(row),
    ...(right ? { align: "right" } : {}),
    ...(sort ? { sorter: (one, other) => order(sort(one), sort(other)) } : {}),
    ...(filter && values.length > 1
      ? {
          filters: values.map((value) => ({ text: value, value })),
          onFilter: (value, row) => filter(row) === value,
        }
      : {}),
  };
}

function order(one: number | string | null, other: number | string | null): number {
  if (one === null || other === null) return Number(one === null) - Number(other === null);
  if (typeof one === "number" && typeof other === "number") return one - other;
  return inOrder(String(one), String(other));
}

/** antd gives its table no name for those who listen to the screen. */
function named(label: string) {
  return (props: ComponentProps<"table">) => <table {...props} aria-label={label} />;
}
