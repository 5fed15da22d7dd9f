/** Reading sheets of a class: how far each is, and setting one. */

import { useMutation, useQueryClient, useSuspenseQuery } from "@tanstack/react-query";
import { Button, Empty } from "antd";
import { useState } from "react";
import { Link } from "react-router";
import { api, type Schemas, unwrap } from "../api/client";
import { classSheetsQuery } from "../api/queries";
import { mm } from "../app/lengths";
import { useMethods } from "../app/methods";
import { day, moment } from "../app/school";
import { DataTable } from "../kit/DataTable";
import { Life } from "../kit/Life";
import { Problem } from "../kit/Problem";
import { Named } from "../kit/Rename";
import { SetSheet } from "./SetSheet";
import { changeSheet, SheetTimes } from "./SheetTimes";

type Row = Schemas["SheetRow"];
const isAway = (sheet: Row) => sheet.away;

export function SheetsTab({ classId }: { classId: number }) {
  const { data: sheets } = useSuspenseQuery(classSheetsQuery(classId));
  const titles = new Map(useMethods().map((method) => [method.name, method.title]));
  const methodOf = (sheet: Row) => titles.get(sheet.method) ?? sheet.method;
  const [setting, setSetting] = useState(false);
  const [timed, setTimed] = useState<Row | null>(null);
  const queries = useQueryClient();
  const close = useMutation({
    mutationFn: ([sheet, at]: [Row, string | null]) => changeSheet(sheet.id, { closes_at: at }),
    onSuccess: () =>
      queries.invalidateQueries({ queryKey: classSheetsQuery(classId).queryKey, exact: true }),
  });
  return (
    <div className="tab">
      <div className="ways">
        <Button type="primary" onClick={() => setSetting(true)}>
          Set a sheet
        </Button>
      </div>
      <DataTable
        label="Reading sheets"
        rows={sheets}
        keyOf={(sheet) => sheet.id}
        away={isAway}
        empty={<Empty description="No sheet set yet. Its stand needs a key first." />}
        columns={[
          {
            title: "Sheet",
            show: (s: Row) => (
              <Named name={s.title} maxLength={120} save={(name) => changeSheet(s.id, { name })}>
                <Link to={`/board/${s.id}`}>{s.title}</Link>
              </Named>
            ),
            sort: (s) => s.title,
            find: (s) => s.title,
          },
          {
            title: "Stand",
            show: (s) => `${s.stand}, key ${s.key_number}`,
            sort: (s) => s.stand,
            filter: (s) => s.stand,
          },
          { title: "Method", show: methodOf, sort: methodOf, filter: methodOf },
          {
            title: "Tolerance",
            show: (s) => <span className="figures">±{mm(Number(s.tolerance_mm))}</span>,
            sort: (s) => Number(s.tolerance_mm),
          },
          {
            title: "Set",
            show: (s) => day(s.set_at),
            sort: (s) => s.set_at,
          },
          { title: "Due", show: (s) => <Due sheet={s} />, sort: (s) => s.closes_at },
          { title: "Handed in", right: true, show: (s) => s.handed_in, sort: (s) => s.handed_in },
          {
            title: "Card",
            right: true,
            show: (s) => (
              <Link className="button" to={cardOf(s)}>
                Route card
              </Link>
            ),
          },
          {
            title: "More",
            right: true,
            show: (s) => (
              <Life
                name={s.title}
                away={s.away}
                about="Who has handed it in still reads their marks."
                more={[
                  { key: "times", label: "Open and close…", onClick: () => setTimed(s) },
                  s.closed && !s.away
                    ? { key: "open", label: "Open again", onClick: () => close.mutate([s, null]) }
                    : {
                        key: "close",
                        label: "Close now",
                        onClick: () => close.mutate([s, new Date().toISOString()]),
                      },
                ]}
                putAway={(away) => changeSheet(s.id, { away })}
                remove={() =>
                  unwrap(
                    api.DELETE("/api/sheets/{sheet_id}", { params: { path: { sheet_id: s.id } } }),
                  )
                }
              />
            ),
          },
        ]}
      />
      <Problem error={close.error} />
      <SheetTimes sheet={timed} onClose={() => setTimed(null)} />
      <SetSheet classId={classId} open={setting} onClose={() => setSetting(false)} />
    </div>
  );
}

/** When a sheet closes, and what of its times counts now. */
function Due({ sheet }: { sheet: Row }) {
  if (sheet.not_open_yet && sheet.opens_at) {
    return <span className="soft">opens {moment(sheet.opens_at)}</span>;
  }
  if (sheet.closes_at === null) return <span className="soft">–</span>;
  const at = sheet.closed ? `closed ${day(sheet.closes_at)}` : moment(sheet.closes_at);
  return <span className={sheet.closed ? "soft" : undefined}>{at}</span>;
}

function cardOf(sheet: Row): string {
  const { engine_id, engine_version, method, id } = sheet;
  return `/route/${engine_id}?method=${method}&version=${engine_version}&sheet=${id}&qr=yes`;
}
